const exact = 'CHARACTER SET ascii COLLATE ascii_bin'
const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/** Keys of the operator's for servers that are described by data, sealed; and how often each was asked on a day. */
export const connectors: string[] = [
  'DROP TABLE IF EXISTS connector_keys',
  'DROP TABLE IF EXISTS connector_days',
  `CREATE TABLE connector_keys (connector VARCHAR(40) ${exact} NOT NULL PRIMARY KEY, sealed VARBINARY(2000) NOT NULL) ${end}`,
  `CREATE TABLE connector_days (connector VARCHAR(40) ${exact} NOT NULL, day DATE NOT NULL, asked INT UNSIGNED NOT NULL,
   PRIMARY KEY (connector, day)) ${end}`,
]
