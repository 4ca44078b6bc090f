-- +goose Up
-- Finding: the end of an address, words of the address beside title and words, values by their key, words with typing
-- errors by what is left of them without one letter. Rows of pages that are there already are filled when they are
-- taken in again; until then they are found by title and words.
ALTER TABLE page
  ADD COLUMN address_back VARCHAR(500) COLLATE utf8mb4_bin AS (REVERSE(address)) STORED,
  ADD COLUMN address_words VARCHAR(500) NOT NULL DEFAULT '',
  ADD INDEX (address_back);
UPDATE page SET address_words = address;
ALTER TABLE page DROP INDEX title;
ALTER TABLE page ADD FULLTEXT page_words (title, words, address_words);

ALTER TABLE page_change ADD INDEX (state, changed_at);

CREATE TABLE page_value (
  page_id BIGINT NOT NULL,
  value_key VARCHAR(60) COLLATE utf8mb4_bin NOT NULL,
  PRIMARY KEY (value_key, page_id),
  INDEX (page_id),
  FOREIGN KEY (page_id) REFERENCES page (id)
);

CREATE TABLE word (
  word VARCHAR(40) COLLATE utf8mb4_bin PRIMARY KEY
);

CREATE TABLE word_near (
  near VARCHAR(40) COLLATE utf8mb4_bin NOT NULL,
  word VARCHAR(40) COLLATE utf8mb4_bin NOT NULL,
  PRIMARY KEY (near, word)
);
