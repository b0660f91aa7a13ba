/** What came before, letter for letter, is found by its hash alone: not by reading all records of its source. */
export const raw: string[] = ['ALTER TABLE records ADD INDEX IF NOT EXISTS by_raw (inquiry_id, raw_hash)']
