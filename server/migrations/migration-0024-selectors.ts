/** What finds a passage again in another version of its work; null for passages of before. */
export const selectors: string[] = ['ALTER TABLE passages ADD COLUMN IF NOT EXISTS selectors JSON AFTER note']
