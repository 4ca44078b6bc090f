-- +goose Up
-- A private key of RSA with 4096 bits takes some 3,300 bytes.
ALTER TABLE site_host MODIFY secret VARBINARY(24000) NOT NULL;
-- A release by hand is a list for a person; Mendry only looks. live_hash is what stood there at the last look.
ALTER TABLE site_release
  MODIFY state ENUM('waiting','running','stopped','live','sure','taken back','left','by hand') NOT NULL,
  ADD COLUMN by_hand BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE release_step
  ADD COLUMN live_hash CHAR(64) NOT NULL DEFAULT '',
  ADD COLUMN seen_at DATETIME(6) NULL;
-- What a person said of a list: an item is put in, or is right as it stands there; a difference is somebody else's.
CREATE TABLE hand_mark (
  step_id BIGINT NOT NULL,
  kind ENUM('put','taken','theirs') NOT NULL,
  about VARCHAR(64) NOT NULL,
  marked_by BIGINT NOT NULL,
  marked_at DATETIME(6) NOT NULL,
  PRIMARY KEY (step_id, kind, about),
  FOREIGN KEY (step_id) REFERENCES release_step (id),
  FOREIGN KEY (marked_by) REFERENCES person (id)
);
-- A taking in that is taken up again goes on with the pages that it has not seen.
ALTER TABLE site ADD COLUMN taking_since DATETIME(6) NULL;
