-- +goose Up
-- How a page stands on its site: left out of searches, and of a day. Filled when a page is taken in.
ALTER TABLE page
  ADD COLUMN hidden BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN dated DATE NULL;
