-- +goose Up
-- A change of a shared part stands on every page that carries it: on the one where it was made (leads), and on others with operations
-- of their own, made for the change as it was at made_for and for that page's bytes of the hash made_on. A page on which it is not made
-- is left, with why. chosen says that a person said so, or that it is made there though the part differs.
ALTER TABLE page_change
  ADD everywhere CHAR(64) NULL,
  ADD takes_back BIGINT NULL;
ALTER TABLE change_page
  MODIFY state ENUM('kept','going','live','sure','undone','dropped','left') NOT NULL,
  ADD leads TINYINT NOT NULL DEFAULT 1,
  ADD op LONGTEXT NULL,
  ADD made_for DATETIME(6) NULL,
  ADD made_on CHAR(64) NOT NULL DEFAULT '',
  ADD why VARCHAR(500) NOT NULL DEFAULT '',
  ADD chosen TINYINT NOT NULL DEFAULT 0;
-- Whether what is done to a shared part in a request is done on all pages or on one: asked for once for each part.
CREATE TABLE shared_choice (
  request_id BIGINT NOT NULL,
  print CHAR(64) NOT NULL,
  everywhere TINYINT NOT NULL,
  chosen_by BIGINT NOT NULL,
  chosen_at DATETIME(6) NOT NULL,
  PRIMARY KEY (request_id, print),
  FOREIGN KEY (request_id) REFERENCES request (id),
  FOREIGN KEY (chosen_by) REFERENCES person (id)
);
