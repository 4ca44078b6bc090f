-- +goose Up
-- Words that are right on a site though no dictionary has them.
CREATE TABLE site_word (
  site_id BIGINT NOT NULL,
  word VARCHAR(60) COLLATE utf8mb4_bin NOT NULL,
  added_by BIGINT NOT NULL,
  added_at DATETIME(6) NOT NULL,
  PRIMARY KEY (site_id, word),
  FOREIGN KEY (site_id) REFERENCES site (id),
  FOREIGN KEY (added_by) REFERENCES person (id)
);
