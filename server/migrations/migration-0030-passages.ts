/** On which strand a passage is, its tags, and passages that are a figure or a table in a box. */
export const passagesOnStrands: string[] = [
  `ALTER TABLE passages MODIFY kind ENUM('quoted','in my words','figure') NOT NULL, MODIFY label VARCHAR(80) NOT NULL,
   ADD COLUMN IF NOT EXISTS strand_id INT UNSIGNED NULL AFTER note, ADD COLUMN IF NOT EXISTS tags JSON NOT NULL DEFAULT '[]' AFTER strand_id`,
  'ALTER TABLE passages ADD CONSTRAINT passage_strand FOREIGN KEY IF NOT EXISTS (strand_id) REFERENCES strands (id) ON DELETE SET NULL',
]
