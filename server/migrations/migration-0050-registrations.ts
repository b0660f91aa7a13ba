/** What registrations said of DOIs, whoever asked; an item that is null was not registered. */
export const registrations: string[] = [
  `CREATE TABLE IF NOT EXISTS doi_registrations (doi VARCHAR(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL PRIMARY KEY, source VARCHAR(500) NOT NULL, item JSON NULL, facts JSON NOT NULL, day DATE NOT NULL) ENGINE=InnoDB`,
]
