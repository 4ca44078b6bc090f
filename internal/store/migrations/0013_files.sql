-- +goose Up
-- A change may bring files to download: new ones, or such that take the place of what stands under their address; was_hash
-- is that of those, empty for a new file.
CREATE TABLE change_file (
  change_id BIGINT NOT NULL,
  n INT NOT NULL,
  site_id BIGINT NOT NULL,
  name VARCHAR(255) NOT NULL,
  path VARCHAR(500) COLLATE utf8mb4_bin NOT NULL,
  media VARCHAR(100) NOT NULL,
  kind VARCHAR(40) NOT NULL,
  size BIGINT NOT NULL,
  hash CHAR(64) NOT NULL,
  was_media VARCHAR(100) NOT NULL,
  was_kind VARCHAR(40) NOT NULL,
  was_size BIGINT NOT NULL,
  was_hash CHAR(64) NOT NULL,
  PRIMARY KEY (change_id, n),
  INDEX (site_id, path),
  FOREIGN KEY (change_id) REFERENCES page_change (id),
  FOREIGN KEY (site_id) REFERENCES site (id)
);
ALTER TABLE page_change MODIFY kind ENUM('words','picture','section','facts','file','video') NOT NULL;
ALTER TABLE release_step MODIFY kind ENUM('picture','file','page','remove') NOT NULL;
