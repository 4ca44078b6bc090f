-- +goose Up
-- Pages are found by mail addresses too, by what links dial and write to, and by a phone number without the code of its place.
UPDATE page SET findable = FALSE;
