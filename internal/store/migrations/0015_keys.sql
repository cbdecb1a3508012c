-- +goose Up
-- A client's key is its user's own and stands for one request: who sent it, a hash of what was asked, and what was answered. Sent once
-- more, it is answered as it was the first time. Keys of earlier versions said none of this, so they can't be kept.
DROP TABLE creations;
CREATE TABLE creations (
  user_id INTEGER NOT NULL, -- 0: the command line
  key TEXT NOT NULL CHECK (length(key) BETWEEN 8 AND 64),
  content TEXT NOT NULL CHECK (length(content) = 64), -- SHA-256
  answer TEXT NOT NULL,
  at INTEGER NOT NULL, -- Unix milliseconds
  PRIMARY KEY (user_id, key)
) STRICT, WITHOUT ROWID;
