-- What the engine learned from what people said of kinds, with how many they were and for which engine. It follows from the
-- excerpts and is learned again where it is missing.
CREATE TABLE learned (
  product_id INTEGER PRIMARY KEY REFERENCES product(id),
  judged INTEGER NOT NULL,
  engine INTEGER NOT NULL,
  weights TEXT NOT NULL
) STRICT;
-- "what did people say of kinds"
CREATE INDEX excerpt_chosen ON excerpt(item_id) WHERE chosen = 1;
