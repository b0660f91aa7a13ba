/** When somebody came into an inquiry: who came first asks the libraries for it. */
export const members: string[] = [
  'ALTER TABLE memberships ADD COLUMN IF NOT EXISTS at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)',
]
