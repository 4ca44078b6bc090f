-- +goose Up
-- The shape of the place that a picture was changed in, as it was shown: in CSS pixels, and how pictures are fitted into it.
ALTER TABLE page_change
  ADD COLUMN shape_width INT NOT NULL DEFAULT 0,
  ADD COLUMN shape_height INT NOT NULL DEFAULT 0,
  ADD COLUMN shape_fit VARCHAR(10) NOT NULL DEFAULT '';
