-- +goose Up
-- What a host's file is known by is read before each write and depends on nothing that was kept.
ALTER TABLE page DROP COLUMN etag;
ALTER TABLE release_step DROP COLUMN before_etag, DROP COLUMN after_etag;
-- What was found out about a host with files of Mendry's own (host.Knows), and when.
ALTER TABLE site_host
  ADD COLUMN knows JSON NOT NULL DEFAULT '{}',
  ADD COLUMN tried_at DATETIME(6) NULL;
