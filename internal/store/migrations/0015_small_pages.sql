-- +goose Up
-- A small picture of each page as it is live, to be known by in lists. of_hash is that of the page that was seen; small is
-- empty where the browser could not draw it.
CREATE TABLE page_small (
  page_id BIGINT PRIMARY KEY,
  of_hash CHAR(64) NOT NULL,
  small CHAR(64) NOT NULL,
  at DATETIME(6) NOT NULL,
  FOREIGN KEY (page_id) REFERENCES page (id)
);
