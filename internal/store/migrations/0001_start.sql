-- +goose Up
-- Times are UTC with microseconds. Blobs are a page's or a picture's bytes as they are on the host.

CREATE TABLE person (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  sign_in VARCHAR(190) NOT NULL UNIQUE,
  name VARCHAR(190) NOT NULL,
  initials VARCHAR(4) NOT NULL,
  role ENUM('lead','maintainer') NOT NULL,
  password_hash VARCHAR(255) NOT NULL,
  created_at DATETIME(6) NOT NULL
);

-- scs (github.com/alexedwards/scs) expects this table as it is.
CREATE TABLE sessions (
  token CHAR(43) PRIMARY KEY,
  data BLOB NOT NULL,
  expiry TIMESTAMP(6) NOT NULL,
  INDEX sessions_expiry (expiry)
);

CREATE TABLE sign_in_try (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  sign_in VARCHAR(190) NOT NULL,
  from_address VARCHAR(64) NOT NULL,
  tried_at DATETIME(6) NOT NULL,
  INDEX (sign_in, tried_at),
  INDEX (from_address, tried_at)
);

CREATE TABLE client (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(190) NOT NULL,
  contact_name VARCHAR(190) NOT NULL,
  contact_mail VARCHAR(190) NOT NULL,
  may_clear BOOLEAN NOT NULL DEFAULT FALSE,
  created_at DATETIME(6) NOT NULL
);

CREATE TABLE site (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  client_id BIGINT NOT NULL,
  name VARCHAR(190) NOT NULL,
  initials VARCHAR(4) NOT NULL,
  colour CHAR(7) NOT NULL,
  host_url VARCHAR(500) NOT NULL,
  public_url VARCHAR(500) NOT NULL,
  host_user VARCHAR(190) NOT NULL,
  host_secret VARBINARY(512) NOT NULL,
  zone VARCHAR(64) NOT NULL,
  state ENUM('new','taking in','ready','failed') NOT NULL,
  said TEXT NOT NULL,
  files_seen INT NOT NULL DEFAULT 0,
  files_all INT NOT NULL DEFAULT 0,
  taken_in_at DATETIME(6) NULL,
  created_at DATETIME(6) NOT NULL,
  FOREIGN KEY (client_id) REFERENCES client (id)
);

CREATE TABLE page (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  site_id BIGINT NOT NULL,
  path VARCHAR(500) COLLATE utf8mb4_bin NOT NULL,
  address VARCHAR(500) COLLATE utf8mb4_bin NOT NULL,
  title VARCHAR(500) NOT NULL,
  description TEXT NOT NULL,
  bytes LONGBLOB NULL,
  hash CHAR(64) NOT NULL,
  etag VARCHAR(255) NOT NULL,
  media VARCHAR(190) NOT NULL,
  size BIGINT NOT NULL,
  encoding VARCHAR(40) NOT NULL,
  locked TEXT NOT NULL,
  words LONGTEXT NOT NULL,
  seen_at DATETIME(6) NOT NULL,
  elsewhere_at DATETIME(6) NULL,
  gone_at DATETIME(6) NULL,
  UNIQUE (site_id, path),
  FULLTEXT (title, words),
  FOREIGN KEY (site_id) REFERENCES site (id)
);

CREATE TABLE request (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  site_id BIGINT NOT NULL,
  subject VARCHAR(300) NOT NULL,
  letter TEXT NOT NULL,
  kind ENUM('mail','call','page') NOT NULL,
  from_name VARCHAR(190) NOT NULL,
  state VARCHAR(20) NOT NULL,
  due_on DATE NULL,
  received_at DATETIME(6) NOT NULL,
  created_by BIGINT NOT NULL,
  signed_name VARCHAR(190) NOT NULL DEFAULT '',
  signed_at DATETIME(6) NULL,
  FOREIGN KEY (site_id) REFERENCES site (id),
  FOREIGN KEY (created_by) REFERENCES person (id)
) AUTO_INCREMENT = 201;

CREATE TABLE attachment (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  request_id BIGINT NOT NULL,
  name VARCHAR(255) NOT NULL,
  media VARCHAR(100) NOT NULL,
  width INT NOT NULL,
  height INT NOT NULL,
  size BIGINT NOT NULL,
  bytes LONGBLOB NOT NULL,
  FOREIGN KEY (request_id) REFERENCES request (id)
);

CREATE TABLE wish (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  request_id BIGINT NOT NULL,
  start_at INT NOT NULL,
  end_at INT NOT NULL,
  words TEXT NOT NULL,
  state ENUM('open','done','declined','impossible') NOT NULL,
  why TEXT NOT NULL,
  page_id BIGINT NULL,
  part_name VARCHAR(300) NOT NULL DEFAULT '',
  part_target TEXT NOT NULL DEFAULT '',
  FOREIGN KEY (request_id) REFERENCES request (id),
  FOREIGN KEY (page_id) REFERENCES page (id)
);

CREATE TABLE site_release (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  request_id BIGINT NOT NULL,
  site_id BIGINT NOT NULL,
  undoes BIGINT NULL,
  state ENUM('waiting','running','stopped','live','sure','taken back') NOT NULL,
  said TEXT NOT NULL,
  made_by BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  done_at DATETIME(6) NULL,
  claimed_by VARCHAR(64) NOT NULL DEFAULT '',
  claimed_until DATETIME(6) NULL,
  look_at DATETIME(6) NULL,
  FOREIGN KEY (request_id) REFERENCES request (id),
  FOREIGN KEY (site_id) REFERENCES site (id)
);

CREATE TABLE picture_file (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  site_id BIGINT NOT NULL,
  request_id BIGINT NOT NULL,
  path VARCHAR(500) COLLATE utf8mb4_bin NOT NULL,
  media VARCHAR(100) NOT NULL,
  width INT NOT NULL,
  height INT NOT NULL,
  size BIGINT NOT NULL,
  hash CHAR(64) NOT NULL,
  bytes LONGBLOB NOT NULL,
  UNIQUE (site_id, path),
  FOREIGN KEY (site_id) REFERENCES site (id),
  FOREIGN KEY (request_id) REFERENCES request (id)
);

CREATE TABLE page_change (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  request_id BIGINT NOT NULL,
  wish_id BIGINT NULL,
  page_id BIGINT NOT NULL,
  kind ENUM('words','picture','section','facts') NOT NULL,
  part_name VARCHAR(300) NOT NULL,
  op LONGTEXT NOT NULL,
  before_html LONGTEXT NOT NULL,
  after_html LONGTEXT NOT NULL,
  before_words LONGTEXT NOT NULL,
  after_words LONGTEXT NOT NULL,
  picture_id BIGINT NULL,
  say TEXT NOT NULL,
  state ENUM('kept','live','sure','undone','dropped') NOT NULL,
  release_id BIGINT NULL,
  made_by BIGINT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  changed_at DATETIME(6) NOT NULL,
  INDEX (request_id, state),
  INDEX (page_id, state),
  FOREIGN KEY (request_id) REFERENCES request (id),
  FOREIGN KEY (wish_id) REFERENCES wish (id),
  FOREIGN KEY (page_id) REFERENCES page (id),
  FOREIGN KEY (picture_id) REFERENCES picture_file (id),
  FOREIGN KEY (release_id) REFERENCES site_release (id)
);

CREATE TABLE proof_round (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  request_id BIGINT NOT NULL,
  n INT NOT NULL,
  token_hash CHAR(64) NOT NULL UNIQUE,
  sent_to VARCHAR(190) NOT NULL,
  sent_at DATETIME(6) NOT NULL,
  expires_at DATETIME(6) NOT NULL,
  opened_at DATETIME(6) NULL,
  answered_at DATETIME(6) NULL,
  signed_name VARCHAR(190) NOT NULL DEFAULT '',
  UNIQUE (request_id, n),
  FOREIGN KEY (request_id) REFERENCES request (id)
);

-- What the client was shown: the bytes of each page, by their hash, and each change as it then was.
CREATE TABLE round_page (
  round_id BIGINT NOT NULL,
  page_id BIGINT NOT NULL,
  before_hash CHAR(64) NOT NULL,
  after_hash CHAR(64) NOT NULL,
  PRIMARY KEY (round_id, page_id),
  FOREIGN KEY (round_id) REFERENCES proof_round (id),
  FOREIGN KEY (page_id) REFERENCES page (id)
);

CREATE TABLE round_change (
  round_id BIGINT NOT NULL,
  change_id BIGINT NOT NULL,
  n INT NOT NULL,
  verdict ENUM('','right','not yet') NOT NULL DEFAULT '',
  note TEXT NOT NULL,
  PRIMARY KEY (round_id, change_id),
  FOREIGN KEY (round_id) REFERENCES proof_round (id),
  FOREIGN KEY (change_id) REFERENCES page_change (id)
);

-- The journal of a release: one file a step, with the bytes before and after.
CREATE TABLE release_step (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  release_id BIGINT NOT NULL,
  n INT NOT NULL,
  kind ENUM('picture','page','remove') NOT NULL,
  path VARCHAR(500) COLLATE utf8mb4_bin NOT NULL,
  page_id BIGINT NULL,
  picture_id BIGINT NULL,
  before_bytes LONGBLOB NULL,
  before_hash CHAR(64) NOT NULL,
  before_etag VARCHAR(255) NOT NULL,
  after_bytes LONGBLOB NULL,
  after_hash CHAR(64) NOT NULL,
  after_etag VARCHAR(255) NOT NULL DEFAULT '',
  state ENUM('waiting','writing','written','failed','taken back') NOT NULL,
  host_seen ENUM('','right','wrong') NOT NULL DEFAULT '',
  public_seen ENUM('','right','old','wrong') NOT NULL DEFAULT '',
  said TEXT NOT NULL,
  UNIQUE (release_id, n),
  FOREIGN KEY (release_id) REFERENCES site_release (id),
  FOREIGN KEY (page_id) REFERENCES page (id)
);

-- One chain a site; rows are only ever added.
CREATE TABLE record_entry (
  site_id BIGINT NOT NULL,
  n BIGINT NOT NULL,
  at CHAR(27) NOT NULL,
  prev CHAR(64) NOT NULL,
  body_hash CHAR(64) NOT NULL,
  hash CHAR(64) NOT NULL,
  body LONGTEXT NOT NULL,
  request_id BIGINT NULL,
  page_id BIGINT NULL,
  PRIMARY KEY (site_id, n),
  INDEX (request_id),
  INDEX (page_id),
  FOREIGN KEY (site_id) REFERENCES site (id)
);

CREATE TABLE preview (
  token_hash CHAR(64) PRIMARY KEY,
  site_id BIGINT NOT NULL,
  request_id BIGINT NULL,
  round_id BIGINT NULL,
  view ENUM('live','draft') NOT NULL,
  marked BOOLEAN NOT NULL,
  expires_at DATETIME(6) NOT NULL,
  INDEX (expires_at),
  FOREIGN KEY (site_id) REFERENCES site (id)
);

CREATE TABLE mail_out (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  request_id BIGINT NULL,
  to_address VARCHAR(190) NOT NULL,
  subject VARCHAR(300) NOT NULL,
  body MEDIUMTEXT NOT NULL,
  state ENUM('waiting','sent','failed') NOT NULL,
  tries INT NOT NULL DEFAULT 0,
  said TEXT NOT NULL,
  made_at DATETIME(6) NOT NULL,
  next_try_at DATETIME(6) NOT NULL,
  sent_at DATETIME(6) NULL,
  INDEX (state, next_try_at)
);
