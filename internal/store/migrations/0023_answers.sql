-- +goose Up
-- A round is shown again by the same link; who answers says so by name, and may ask for one thing more.
ALTER TABLE proof_round
  ADD COLUMN reminded_at DATETIME(6) NULL,
  ADD COLUMN answered_by VARCHAR(190) NOT NULL DEFAULT '',
  ADD COLUMN more TEXT NOT NULL DEFAULT '';
UPDATE proof_round SET answered_by = signed_name WHERE answered_at IS NOT NULL;
-- Where the change is, as the client was told.
ALTER TABLE round_change ADD COLUMN place VARCHAR(250) NOT NULL DEFAULT '';
-- What came of a round that was answered, or overtaken, already: nothing that a client wrote is thrown away. Without a
-- change it is what they asked for besides.
CREATE TABLE late_answer (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  round_id BIGINT NOT NULL,
  change_id BIGINT NULL,
  verdict VARCHAR(20) NOT NULL DEFAULT '',
  note TEXT NOT NULL,
  name VARCHAR(190) NOT NULL,
  at DATETIME(6) NOT NULL,
  FOREIGN KEY (round_id) REFERENCES proof_round (id),
  FOREIGN KEY (change_id) REFERENCES page_change (id)
);
