-- +goose Up
-- A file of a site that nothing names and that was taken away, and perhaps brought back. hash is that of its bytes, which are
-- kept; empty until they are. state: going and coming while a job is at it; stayed where it could not be taken away.
CREATE TABLE taken_away (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  site_id BIGINT NOT NULL,
  path VARCHAR(500) COLLATE utf8mb4_bin NOT NULL,
  size BIGINT NOT NULL,
  hash CHAR(64) NOT NULL,
  state ENUM('going','away','coming','back','stayed') NOT NULL,
  said VARCHAR(1000) NOT NULL,
  person_id BIGINT NOT NULL,
  at DATETIME(6) NOT NULL,
  INDEX (site_id, at),
  FOREIGN KEY (site_id) REFERENCES site (id),
  FOREIGN KEY (person_id) REFERENCES person (id)
);
