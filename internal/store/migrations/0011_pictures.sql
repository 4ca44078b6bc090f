-- +goose Up
-- A change may bring several pictures: the sizes that a page offers, one for narrow screens, the share picture. The first
-- is the one that the change is of; made_from says what it was made of, and how, so that it can be made otherwise later.
CREATE TABLE change_picture (
  change_id BIGINT NOT NULL,
  n INT NOT NULL,
  picture_id BIGINT NOT NULL,
  PRIMARY KEY (change_id, n),
  INDEX (picture_id),
  FOREIGN KEY (change_id) REFERENCES page_change (id),
  FOREIGN KEY (picture_id) REFERENCES picture_file (id)
);
INSERT INTO change_picture (change_id, n, picture_id) SELECT id, 0, picture_id FROM page_change WHERE picture_id IS NOT NULL;
ALTER TABLE page_change DROP FOREIGN KEY page_change_ibfk_4;
ALTER TABLE page_change DROP COLUMN picture_id, ADD COLUMN made_from TEXT NOT NULL DEFAULT '';
-- What work on a picture came to, so that it is done once. of_hash is that of the original, work that of what was done.
CREATE TABLE picture_made (
  of_hash CHAR(64) NOT NULL,
  work CHAR(64) NOT NULL,
  hash CHAR(64) NOT NULL,
  media VARCHAR(100) NOT NULL,
  width INT NOT NULL,
  height INT NOT NULL,
  size BIGINT NOT NULL,
  said TEXT NOT NULL,
  PRIMARY KEY (of_hash, work)
);
-- How large pictures are shown on a page at a width of the window, as a frame said; a hint, since a page could lie.
CREATE TABLE picture_place (
  page_id BIGINT NOT NULL,
  src_hash CHAR(64) NOT NULL,
  at_width INT NOT NULL,
  width INT NOT NULL,
  height INT NOT NULL,
  fit VARCHAR(10) NOT NULL,
  own_shape BOOLEAN NOT NULL,
  seen_at DATETIME(6) NOT NULL,
  PRIMARY KEY (page_id, src_hash, at_width),
  FOREIGN KEY (page_id) REFERENCES page (id)
);
