/** Copies of before captions were kept have none; how many pages of a scan were read is asked without all its parts. */
export const parts: string[] = [
  `UPDATE copies SET parts = JSON_SET(parts, '$.captions', JSON_ARRAY()) WHERE parts IS NOT NULL`,
  `ALTER TABLE copies ADD COLUMN IF NOT EXISTS scanned INT UNSIGNED AS (JSON_LENGTH(parts, '$.scan.read')) VIRTUAL`,
]
