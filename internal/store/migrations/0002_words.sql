-- +goose Up
-- Why the old words of a change stay in other places.
ALTER TABLE page_change ADD COLUMN left_why TEXT NOT NULL DEFAULT '';
