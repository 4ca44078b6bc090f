-- +goose Up
-- A change that hides a part takes it out of its page with its place remembered; the one that shows it again names that change.
ALTER TABLE page_change
  ADD hides TINYINT NOT NULL DEFAULT 0,
  ADD shows BIGINT NULL,
  ADD KEY page_change_shows (shows);
