-- Which way the items of a product were split into excerpts. What is not known is split anew. It follows from the items, so
-- the ledger does not keep it.
CREATE TABLE item_split (
  product_id INTEGER PRIMARY KEY REFERENCES product(id) ON DELETE CASCADE,
  way INTEGER NOT NULL
) STRICT;

-- "what did somebody say of these very words"
CREATE INDEX excerpt_chosen_words ON excerpt(meaning_key) WHERE chosen = 1;
