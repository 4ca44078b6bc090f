-- +goose Up
-- The sections that each page can lend to others of its site, as they were when its bytes had the hash of_hash. The row with nth 0
-- has no part: it says that the page was looked through. small is the hash of a small picture, NULL until it is taken, empty where
-- it could not be.
CREATE TABLE page_section (
  page_id BIGINT NOT NULL,
  nth INT NOT NULL,
  site_id BIGINT NOT NULL,
  of_hash CHAR(64) NOT NULL,
  part VARCHAR(60) NOT NULL,
  name VARCHAR(250) NOT NULL,
  holds VARCHAR(250) NOT NULL,
  words VARCHAR(300) NOT NULL,
  look CHAR(16) NOT NULL,
  sample VARCHAR(12) NOT NULL,
  small CHAR(64) NULL,
  PRIMARY KEY (page_id, nth),
  KEY page_section_site (site_id),
  FOREIGN KEY (page_id) REFERENCES page (id)
);
