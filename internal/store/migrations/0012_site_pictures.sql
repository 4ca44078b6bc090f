-- +goose Up
-- The picture files of a site, as they were seen last, and where pages name them. Of the files themselves only small ones
-- to be looked at are kept, among the blobs.
CREATE TABLE site_picture (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  site_id BIGINT NOT NULL,
  path VARCHAR(500) COLLATE utf8mb4_bin NOT NULL,
  folder VARCHAR(500) COLLATE utf8mb4_bin NOT NULL,
  media VARCHAR(100) NOT NULL,
  width INT NOT NULL,
  height INT NOT NULL,
  size BIGINT NOT NULL,
  hash CHAR(64) NOT NULL,
  said TEXT NOT NULL,
  seen_at DATETIME(6) NOT NULL,
  UNIQUE (site_id, path),
  INDEX (site_id, hash),
  FOREIGN KEY (site_id) REFERENCES site (id)
);
CREATE TABLE picture_use (
  site_id BIGINT NOT NULL,
  file VARCHAR(500) COLLATE utf8mb4_bin NOT NULL,
  page_id BIGINT NULL,
  src_hash CHAR(64) NOT NULL,
  address VARCHAR(500) COLLATE utf8mb4_bin NOT NULL,
  part VARCHAR(300) NOT NULL,
  alt TEXT NOT NULL,
  says BOOLEAN NOT NULL,
  INDEX (site_id, file),
  INDEX (page_id),
  FOREIGN KEY (site_id) REFERENCES site (id),
  FOREIGN KEY (page_id) REFERENCES page (id)
);
ALTER TABLE site ADD COLUMN pictures_at DATETIME(6) NULL, ADD COLUMN pictures_said TEXT NOT NULL DEFAULT '';
