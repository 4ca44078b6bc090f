-- +goose Up
-- Every version of a page that Mendry knew, in order: the first is its starting state.
CREATE TABLE page_version (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  page_id BIGINT NOT NULL,
  hash CHAR(64) NOT NULL,
  media VARCHAR(190) NOT NULL,
  seen_at DATETIME(6) NOT NULL,
  KEY (page_id, id),
  FOREIGN KEY (page_id) REFERENCES page (id)
);
-- What is known of the time before: what releases found and what they wrote, and what stands there now.
INSERT INTO page_version (page_id, hash, media, seen_at)
  SELECT p.id, v.hash, p.media, v.at FROM page p JOIN (
    SELECT s.page_id, s.before_hash hash, s.id * 2 nth, r.made_at at FROM release_step s JOIN site_release r ON r.id = s.release_id
      WHERE s.kind = 'page' AND s.state IN ('written', 'taken back') AND s.before_hash <> ''
    UNION ALL
    SELECT s.page_id, s.after_hash, s.id * 2 + 1, COALESCE(r.done_at, r.made_at) FROM release_step s JOIN site_release r ON r.id = s.release_id
      WHERE s.kind = 'page' AND s.state = 'written' AND s.before_hash <> '' AND s.after_hash <> ''
  ) v ON v.page_id = p.id ORDER BY p.id, v.nth;
INSERT INTO page_version (page_id, hash, media, seen_at)
  SELECT p.id, p.hash, p.media, p.seen_at FROM page p WHERE p.hash <> '' AND NOT EXISTS (
    SELECT 1 FROM page_version v WHERE v.page_id = p.id AND v.hash = p.hash AND v.id = (SELECT MAX(w.id) FROM page_version w WHERE w.page_id = p.id));
