-- +goose Up
-- A round that shows nobody anything: it carries the clearance of an earlier one onto pages that others edited since.
ALTER TABLE proof_round ADD COLUMN carries BIGINT NULL, ADD FOREIGN KEY (carries) REFERENCES proof_round (id);
