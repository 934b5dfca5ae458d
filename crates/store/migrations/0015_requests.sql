-- Forms by which customers and colleagues ask for something, and what they asked for.
CREATE TABLE request_form (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  title TEXT NOT NULL,
  intro TEXT,
  fields TEXT NOT NULL,
  -- 1 where anybody who has its link may fill it in
  open INTEGER NOT NULL DEFAULT 0,
  -- what its link ends with
  key TEXT NOT NULL UNIQUE,
  own TEXT
) STRICT;
CREATE INDEX request_form_product ON request_form(product_id);

CREATE TABLE request (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  form_id INTEGER REFERENCES request_form(id),
  item_id INTEGER NOT NULL UNIQUE REFERENCES feedback_item(id),
  came_on TEXT NOT NULL,
  state TEXT,
  reply TEXT,
  -- Only a hash of the key of the sender's link is kept.
  key_hash TEXT NOT NULL UNIQUE,
  own TEXT
) STRICT;
CREATE INDEX request_product ON request(product_id);
CREATE INDEX request_by_form ON request(form_id);

CREATE TRIGGER words_request_form_insert AFTER INSERT ON request_form BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 17, 'request_form', NEW.id, NEW.title, NEW.intro);
END;
CREATE TRIGGER words_request_form_update AFTER UPDATE OF title, intro ON request_form BEGIN
  UPDATE thing_words SET title = NEW.title, body = NEW.intro WHERE rowid = NEW.id * 64 + 17;
END;
CREATE TRIGGER words_request_form_delete AFTER DELETE ON request_form BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 17;
END;
CREATE TRIGGER words_request_insert AFTER INSERT ON request BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 18, 'request', NEW.id, (SELECT i.text FROM feedback_item i WHERE i.id = NEW.item_id), NEW.reply);
END;
CREATE TRIGGER words_request_update AFTER UPDATE OF reply ON request BEGIN
  UPDATE thing_words SET body = NEW.reply WHERE rowid = NEW.id * 64 + 18;
END;
CREATE TRIGGER words_request_delete AFTER DELETE ON request BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 18;
END;
