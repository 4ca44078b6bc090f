-- +goose Up
-- Bytes stand in one place, by their SHA-256: pages, pictures, what came with a letter, the journal of a release, what a
-- client was shown. Rows are never changed.
CREATE TABLE file_blob (
  hash CHAR(64) PRIMARY KEY,
  bytes LONGBLOB NOT NULL
);
ALTER TABLE attachment ADD COLUMN hash CHAR(64) NOT NULL DEFAULT '' AFTER size;
UPDATE attachment SET hash = SHA2(bytes, 256);
INSERT IGNORE INTO file_blob SELECT hash, bytes FROM attachment;
INSERT IGNORE INTO file_blob SELECT hash, bytes FROM page WHERE bytes IS NOT NULL;
INSERT IGNORE INTO file_blob SELECT hash, bytes FROM picture_file;
INSERT IGNORE INTO file_blob SELECT before_hash, before_bytes FROM release_step WHERE before_bytes IS NOT NULL;
INSERT IGNORE INTO file_blob SELECT after_hash, after_bytes FROM release_step WHERE after_bytes IS NOT NULL;
ALTER TABLE attachment DROP COLUMN bytes;
ALTER TABLE page DROP COLUMN bytes;
ALTER TABLE picture_file DROP COLUMN bytes, ADD INDEX (request_id, hash);
ALTER TABLE release_step DROP COLUMN before_bytes, DROP COLUMN after_bytes, ADD INDEX (path, state);

-- A change stands on one page or on several, and goes live page by page. A change that a release carries is going.
CREATE TABLE change_page (
  change_id BIGINT NOT NULL,
  page_id BIGINT NOT NULL,
  request_id BIGINT NOT NULL,
  state ENUM('kept','going','live','sure','undone','dropped') NOT NULL,
  release_id BIGINT NULL,
  PRIMARY KEY (change_id, page_id),
  INDEX (page_id, state),
  INDEX (request_id, state),
  INDEX (release_id),
  FOREIGN KEY (change_id) REFERENCES page_change (id),
  FOREIGN KEY (page_id) REFERENCES page (id),
  FOREIGN KEY (request_id) REFERENCES request (id),
  FOREIGN KEY (release_id) REFERENCES site_release (id)
);
INSERT INTO change_page (change_id, page_id, request_id, state, release_id)
  SELECT c.id, c.page_id, c.request_id, IF(c.state = 'kept' AND r.state IN ('waiting', 'running', 'stopped'), 'going', c.state), c.release_id
  FROM page_change c LEFT JOIN site_release r ON r.id = c.release_id;
ALTER TABLE page_change DROP FOREIGN KEY page_change_ibfk_3, DROP FOREIGN KEY page_change_ibfk_5;
ALTER TABLE page_change DROP COLUMN page_id, DROP COLUMN state, DROP COLUMN release_id, ADD INDEX (changed_at);

-- A site has hosts: the live one, and perhaps one for rehearsals.
CREATE TABLE site_host (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  site_id BIGINT NOT NULL,
  role ENUM('live','rehearsal') NOT NULL,
  kind VARCHAR(20) NOT NULL,
  url VARCHAR(500) NOT NULL,
  user VARCHAR(190) NOT NULL,
  secret VARBINARY(512) NOT NULL,
  UNIQUE (site_id, role),
  FOREIGN KEY (site_id) REFERENCES site (id)
);
INSERT INTO site_host (site_id, role, kind, url, user, secret) SELECT id, 'live', 'webdav', host_url, host_user, host_secret FROM site;
ALTER TABLE site DROP COLUMN host_url, DROP COLUMN host_user, DROP COLUMN host_secret;

-- What Mendry does by itself. A job is claimed by one process until a time; while it is, no other job of its lane is.
CREATE TABLE job (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(20) NOT NULL,
  about VARCHAR(100) NOT NULL,
  lane VARCHAR(60) NOT NULL,
  due DATETIME(6) NOT NULL,
  asked BIGINT NOT NULL DEFAULT 1,
  claimed_by VARCHAR(64) NOT NULL DEFAULT '',
  claimed_until DATETIME(6) NULL,
  busy_lane VARCHAR(60) NULL UNIQUE,
  tries INT NOT NULL DEFAULT 0,
  said TEXT NOT NULL DEFAULT '',
  UNIQUE (kind, about),
  INDEX (due),
  INDEX (claimed_until)
);
INSERT INTO job (kind, about, lane, due)
  SELECT 'release', id, CONCAT('site ', site_id), UTC_TIMESTAMP(6) FROM site_release WHERE state IN ('waiting', 'running') OR state = 'live' AND look_at IS NOT NULL;
INSERT INTO job (kind, about, lane, due) SELECT 'mail', id, 'mail', next_try_at FROM mail_out WHERE state = 'waiting';
INSERT INTO job (kind, about, lane, due) SELECT 'take in', id, CONCAT('site ', id), UTC_TIMESTAMP(6) FROM site WHERE state IN ('new', 'taking in');
ALTER TABLE mail_out DROP COLUMN next_try_at;
ALTER TABLE site_release DROP COLUMN claimed_by, DROP COLUMN claimed_until,
  MODIFY state ENUM('waiting','running','stopped','live','sure','taken back','left') NOT NULL;
ALTER TABLE release_step
  MODIFY state ENUM('waiting','writing','written','failed','taken back','left') NOT NULL,
  MODIFY host_seen ENUM('','right','wrong','later') NOT NULL DEFAULT '',
  MODIFY public_seen ENUM('','right','old','wrong','later') NOT NULL DEFAULT '';

-- What page.Shared tells a part by, for every part that may be shared. Pages that are there already are read again.
CREATE TABLE shared_part (
  page_id BIGINT NOT NULL,
  site_id BIGINT NOT NULL,
  print CHAR(64) NOT NULL,
  PRIMARY KEY (page_id, print),
  INDEX (site_id, print)
);
UPDATE page SET findable = FALSE;

ALTER TABLE request ADD INDEX (state, due_on), ADD INDEX (site_id, state), ADD INDEX (due_on);

-- How often a sign-in was tried under a name or from an address, counted before the password is looked at.
DROP TABLE sign_in_try;
CREATE TABLE sign_in_count (
  what VARCHAR(260) COLLATE utf8mb4_bin PRIMARY KEY,
  tries INT NOT NULL,
  since DATETIME(6) NOT NULL,
  INDEX (since)
);
