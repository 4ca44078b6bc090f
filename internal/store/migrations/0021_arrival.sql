-- +goose Up
-- The last act that was kept out of an outbox, in which a browser numbers what it sends of a page of a request: where no answer
-- came back, it is told by this whether the act was kept.
CREATE TABLE arrival (
  request_id BIGINT NOT NULL,
  page_id BIGINT NOT NULL,
  outbox VARCHAR(40) NOT NULL,
  number BIGINT NOT NULL,
  PRIMARY KEY (request_id, page_id, outbox),
  FOREIGN KEY (request_id) REFERENCES request (id),
  FOREIGN KEY (page_id) REFERENCES page (id)
);
