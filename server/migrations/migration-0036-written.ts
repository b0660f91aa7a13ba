/** What stretches of an annotation, and of a text around the list, are: emphasis, lists, citations. */
export const written: string[] = [
  `ALTER TABLE entries ADD COLUMN IF NOT EXISTS marks JSON NOT NULL DEFAULT '[]' AFTER annotation`,
  `ALTER TABLE list_texts ADD COLUMN IF NOT EXISTS marks JSON NOT NULL DEFAULT '[]' AFTER content`,
]
