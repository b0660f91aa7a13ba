const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'
const exact = 'CHARACTER SET ascii COLLATE ascii_bin'
const id = 'id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY'
const inquiry = 'inquiry_id INT UNSIGNED NOT NULL, FOREIGN KEY (inquiry_id) REFERENCES inquiries(id) ON DELETE CASCADE'
const work = 'work_id INT UNSIGNED NOT NULL, FOREIGN KEY (work_id) REFERENCES works(id) ON DELETE CASCADE'
const at = 'at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)'
const table = (name: string, columns: string): string => `CREATE TABLE IF NOT EXISTS ${name} (${columns}) ${end}`

/** The first tables. Unique keys make duplicates impossible; what is known by value compares byte by byte. */
export const first: string[] = [
  table(
    'users',
    `${id}, email VARCHAR(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL UNIQUE, name VARCHAR(190) NOT NULL, password_hash VARCHAR(255) ${exact} NOT NULL`,
  ),
  table(
    'sessions',
    `sid VARCHAR(64) ${exact} NOT NULL PRIMARY KEY, expires DATETIME(3) NULL, data TEXT NULL, created_at DATETIME(3) NOT NULL, updated_at DATETIME(3) NOT NULL, KEY (expires)`,
  ),
  table('clock', 'id TINYINT UNSIGNED NOT NULL PRIMARY KEY, stands_on DATE NULL'),
  table(
    'inquiries',
    `${id}, title VARCHAR(190) NOT NULL, question TEXT NOT NULL, due DATE NOT NULL, zone VARCHAR(64) ${exact} NOT NULL, style VARCHAR(80) ${exact} NOT NULL,
     rules JSON NOT NULL, query TEXT NOT NULL, revision INT UNSIGNED NOT NULL DEFAULT 0, version INT UNSIGNED NOT NULL DEFAULT 1, ${at}`,
  ),
  table(
    'memberships',
    `inquiry_id INT UNSIGNED NOT NULL, user_id INT UNSIGNED NOT NULL, role ENUM('owner','reader') NOT NULL, PRIMARY KEY (inquiry_id, user_id), KEY (user_id),
     FOREIGN KEY (inquiry_id) REFERENCES inquiries(id) ON DELETE CASCADE, FOREIGN KEY (user_id) REFERENCES users(id) ON DELETE CASCADE`,
  ),
  table(
    'idempotency',
    `user_id INT UNSIGNED NOT NULL, idempotency_key VARCHAR(80) ${exact} NOT NULL, request_hash CHAR(64) ${exact} NOT NULL, status SMALLINT UNSIGNED NULL, body MEDIUMTEXT NULL, ${at},
     PRIMARY KEY (user_id, idempotency_key), FOREIGN KEY (user_id) REFERENCES users(id) ON DELETE CASCADE`,
  ),
  table(
    'blobs',
    `hash CHAR(64) ${exact} NOT NULL PRIMARY KEY, size INT UNSIGNED NOT NULL, media_type VARCHAR(80) ${exact} NOT NULL`,
  ),
  table(
    'blob_chunks',
    `hash CHAR(64) ${exact} NOT NULL, n INT UNSIGNED NOT NULL, bytes MEDIUMBLOB NOT NULL, PRIMARY KEY (hash, n), FOREIGN KEY (hash) REFERENCES blobs(hash) ON DELETE CASCADE`,
  ),
  table(
    'jobs',
    `${id}, kind VARCHAR(40) ${exact} NOT NULL, inquiry_id INT UNSIGNED NULL, user_id INT UNSIGNED NULL, payload JSON NOT NULL, state ENUM('queued','running','done','failed','cancelled') NOT NULL DEFAULT 'queued',
     progress JSON NOT NULL, result JSON NULL, error TEXT NULL, attempts TINYINT UNSIGNED NOT NULL DEFAULT 0, cancel_asked BOOLEAN NOT NULL DEFAULT FALSE, worker VARCHAR(60) ${exact} NULL,
     run_after DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), lease_until DATETIME(3) NULL, ${at}, changed_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3) ON UPDATE CURRENT_TIMESTAMP(3),
     KEY (state, run_after), KEY (inquiry_id, changed_at), FOREIGN KEY (inquiry_id) REFERENCES inquiries(id) ON DELETE CASCADE, FOREIGN KEY (user_id) REFERENCES users(id) ON DELETE CASCADE`,
  ),
  table(
    'sweeps',
    `${id}, ${inquiry}, query TEXT NOT NULL, cql TEXT NOT NULL, repairs JSON NOT NULL, desk_day DATE NOT NULL, ${at}`,
  ),
  table(
    'sweep_catalogues',
    `sweep_id INT UNSIGNED NOT NULL, catalogue VARCHAR(40) ${exact} NOT NULL, asked TEXT NULL, changes JSON NOT NULL, state ENUM('waiting','asking','done','failed') NOT NULL DEFAULT 'waiting', count INT UNSIGNED NULL,
     fetched INT UNSIGNED NOT NULL DEFAULT 0, error TEXT NULL, PRIMARY KEY (sweep_id, catalogue), FOREIGN KEY (sweep_id) REFERENCES sweeps(id) ON DELETE CASCADE`,
  ),
  table(
    'imports',
    `${id}, ${inquiry}, file_name VARCHAR(255) NOT NULL, hash CHAR(64) ${exact} NOT NULL, state ENUM('waiting','done','refused') NOT NULL DEFAULT 'waiting', report JSON NULL, ${at}, FOREIGN KEY (hash) REFERENCES blobs(hash)`,
  ),
  table(
    'records',
    `${id}, ${inquiry}, source VARCHAR(60) ${exact} NOT NULL, source_key VARCHAR(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL, raw_hash CHAR(64) ${exact} NOT NULL, raw MEDIUMTEXT NOT NULL, format VARCHAR(20) ${exact} NOT NULL,
     item JSON NOT NULL, facts JSON NOT NULL, work_id INT UNSIGNED NULL, ${at}, UNIQUE KEY (inquiry_id, source, source_key, raw_hash), KEY (work_id)`,
  ),
  table(
    'sweep_hits',
    `sweep_id INT UNSIGNED NOT NULL, catalogue VARCHAR(40) ${exact} NOT NULL, position INT UNSIGNED NOT NULL, record_id INT UNSIGNED NOT NULL, PRIMARY KEY (sweep_id, catalogue, position), KEY (record_id),
     FOREIGN KEY (sweep_id, catalogue) REFERENCES sweep_catalogues(sweep_id, catalogue) ON DELETE CASCADE, FOREIGN KEY (record_id) REFERENCES records(id) ON DELETE CASCADE`,
  ),
  table(
    'pair_links',
    `${inquiry}, a INT UNSIGNED NOT NULL, b INT UNSIGNED NOT NULL, verdict ENUM('same','never','asked') NOT NULL, score FLOAT NOT NULL, decided_by ENUM('identifier','description','student') NOT NULL,
     PRIMARY KEY (a, b), CHECK (a < b), FOREIGN KEY (a) REFERENCES records(id) ON DELETE CASCADE, FOREIGN KEY (b) REFERENCES records(id) ON DELETE CASCADE`,
  ),
  // a work carries the id of its first record, so that rebuilding needs no new numbers
  table(
    'works',
    `id INT UNSIGNED NOT NULL PRIMARY KEY, ${inquiry}, successor_id INT UNSIGNED NULL, item JSON NOT NULL, facts JSON NOT NULL, field_from JSON NOT NULL, kind VARCHAR(40) NOT NULL, confidence FLOAT NOT NULL, evidence JSON NOT NULL,
     state ENUM('unread','kept','set aside','later') NOT NULL DEFAULT 'unread', pass VARCHAR(20) NULL, reason VARCHAR(500) NULL, KEY (inquiry_id, successor_id, state), FOREIGN KEY (id) REFERENCES records(id) ON DELETE CASCADE`,
  ),
  table(
    'decisions',
    `n INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, id CHAR(36) ${exact} NOT NULL UNIQUE, group_id CHAR(36) ${exact} NOT NULL, ${inquiry}, ${work}, pass VARCHAR(20) NOT NULL, choice ENUM('keep','set aside','later') NULL, reason VARCHAR(500) NULL,
     undoes CHAR(36) ${exact} NULL, user_id INT UNSIGNED NOT NULL, revision INT UNSIGNED NOT NULL, ${at}, KEY (group_id), UNIQUE KEY (undoes, work_id), FOREIGN KEY (user_id) REFERENCES users(id)`,
  ),
  table(
    'trails',
    `${work}, ${inquiry}, direction ENUM('references','cited-by') NOT NULL, total INT UNSIGNED NOT NULL, neighbours MEDIUMTEXT NOT NULL, ${at}, PRIMARY KEY (work_id, direction)`,
  ),
  table(
    'routes',
    `${work}, ${inquiry}, routes JSON NOT NULL, closed JSON NOT NULL, desk_day DATE NOT NULL, trouble TEXT NULL, ${at}, PRIMARY KEY (work_id)`,
  ),
  table('holdings', `library VARCHAR(190) NOT NULL PRIMARY KEY, content MEDIUMTEXT NOT NULL, ${at}`),
  table(
    'gate_sessions',
    `user_id INT UNSIGNED NOT NULL PRIMARY KEY, cookie VARBINARY(2000) NOT NULL, until DATETIME(3) NOT NULL, FOREIGN KEY (user_id) REFERENCES users(id) ON DELETE CASCADE`,
  ),
  table(
    'copies',
    `${id}, ${inquiry}, ${work}, hash CHAR(64) ${exact} NOT NULL, origin VARCHAR(500) NOT NULL, outcome ENUM('proved','doubtful','not this work') NOT NULL, version VARCHAR(40) NOT NULL, proof JSON NOT NULL, pages INT UNSIGNED NOT NULL, labels JSON NOT NULL, ${at},
     UNIQUE KEY (work_id, hash), FOREIGN KEY (hash) REFERENCES blobs(hash)`,
  ),
  table(
    'copy_pages',
    `copy_id INT UNSIGNED NOT NULL, page INT UNSIGNED NOT NULL, content MEDIUMTEXT NOT NULL, PRIMARY KEY (copy_id, page), FOREIGN KEY (copy_id) REFERENCES copies(id) ON DELETE CASCADE`,
  ),
  table(
    'attempts',
    `${id}, ${work}, url VARCHAR(1000) NOT NULL, outcome VARCHAR(20) NOT NULL, said TEXT NOT NULL, ${at}`,
  ),
  table(
    'passages',
    `${id}, ${inquiry}, ${work}, copy_id INT UNSIGNED NOT NULL, page INT UNSIGNED NOT NULL, label VARCHAR(20) NOT NULL, kind ENUM('quoted','in my words') NOT NULL, quote TEXT NOT NULL, note TEXT NOT NULL, version INT UNSIGNED NOT NULL DEFAULT 1, ${at},
     FOREIGN KEY (copy_id) REFERENCES copies(id) ON DELETE CASCADE`,
  ),
  table(
    'entries',
    `${id}, ${inquiry}, ${work}, annotation TEXT NOT NULL, version INT UNSIGNED NOT NULL DEFAULT 1, ${at}, UNIQUE KEY (work_id)`,
  ),
]
