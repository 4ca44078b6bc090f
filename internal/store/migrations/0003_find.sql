-- +goose Up
-- Finding: the end of an address, the words of each page, values by their key, words with typing errors by what is left
-- of them without one letter. Pages that are there already are read into it when Mendry starts.
ALTER TABLE page
  ADD COLUMN address_back VARCHAR(500) COLLATE utf8mb4_bin AS (REVERSE(address)) STORED,
  ADD COLUMN findable BOOLEAN NOT NULL DEFAULT FALSE,
  ADD INDEX (address_back),
  ADD INDEX (site_id, gone_at),
  DROP INDEX title;

CREATE TABLE word (
  id INT AUTO_INCREMENT PRIMARY KEY,
  word VARCHAR(40) COLLATE utf8mb4_bin NOT NULL UNIQUE
);

CREATE TABLE word_near (
  near VARCHAR(40) COLLATE utf8mb4_bin NOT NULL,
  word_id INT NOT NULL,
  PRIMARY KEY (near, word_id)
);

CREATE TABLE page_word (
  word_id INT NOT NULL,
  page_id BIGINT NOT NULL,
  PRIMARY KEY (word_id, page_id)
);

CREATE TABLE page_value (
  value_key VARCHAR(60) COLLATE utf8mb4_bin NOT NULL,
  page_id BIGINT NOT NULL,
  PRIMARY KEY (value_key, page_id)
);

ALTER TABLE page_change ADD INDEX (state, changed_at);
