-- +goose Up
-- Pictures of a page before and after a draft, as a browser draws it, and what looks different. mark says which draft: the
-- hashes of the page and of the draft, and its changes with the times of their last wording.
CREATE TABLE shot_set (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  request_id BIGINT NOT NULL,
  page_id BIGINT NOT NULL,
  mark CHAR(64) NOT NULL,
  before_hash CHAR(64) NOT NULL,
  after_hash CHAR(64) NOT NULL,
  state ENUM('waiting','taking','ready','failed') NOT NULL,
  said TEXT NOT NULL,
  at DATETIME(6) NOT NULL,
  UNIQUE (request_id, page_id, mark),
  FOREIGN KEY (request_id) REFERENCES request (id),
  FOREIGN KEY (page_id) REFERENCES page (id)
);
CREATE TABLE page_shot (
  set_id BIGINT NOT NULL,
  width INT NOT NULL,
  before_png CHAR(64) NOT NULL,
  after_png CHAR(64) NOT NULL,
  before_height INT NOT NULL,
  after_height INT NOT NULL,
  regions TEXT NOT NULL,
  faint TEXT NOT NULL,
  moving INT NOT NULL,
  cut BOOLEAN NOT NULL,
  PRIMARY KEY (set_id, width),
  INDEX (before_png),
  INDEX (after_png),
  FOREIGN KEY (set_id) REFERENCES shot_set (id)
);
