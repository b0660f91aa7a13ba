/** How often a work is cited by the citation index, and when that was asked; a count of none says it is not known there. */
export const citations: string[] = [
  'ALTER TABLE works ADD COLUMN IF NOT EXISTS cited_by INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS cited_at DATETIME(3) NULL',
]
