-- Lists of what was said, in the orders in which they are looked at, each from an index alone.

-- Which product an excerpt is of and when it was said follow from its item and stand with it, so that no list of excerpts goes
-- from item to item. Kept by triggers; the ledger keeps neither, `iron-kite verify` compares.
ALTER TABLE excerpt ADD COLUMN product_id INTEGER;
ALTER TABLE excerpt ADD COLUMN said_on TEXT;
UPDATE excerpt SET (product_id, said_on) = (SELECT i.product_id, i.said_on FROM feedback_item i WHERE i.id = item_id);
CREATE TRIGGER excerpt_of_item AFTER INSERT ON excerpt BEGIN
  UPDATE excerpt SET (product_id, said_on) = (SELECT i.product_id, i.said_on FROM feedback_item i WHERE i.id = NEW.item_id)
    WHERE id = NEW.id;
END;
CREATE TRIGGER excerpt_with_item AFTER UPDATE OF product_id, said_on ON feedback_item BEGIN
  UPDATE excerpt SET product_id = NEW.product_id, said_on = NEW.said_on WHERE item_id = NEW.id;
END;

-- excerpts as they came (and how many), by item, by day, by sentiment, by kind
CREATE INDEX excerpt_of_product ON excerpt(product_id);
CREATE INDEX excerpt_by_item ON excerpt(product_id, item_id);
CREATE INDEX excerpt_by_day ON excerpt(product_id, said_on);
CREATE INDEX excerpt_by_sentiment ON excerpt(product_id, sentiment);
CREATE INDEX excerpt_by_kind ON excerpt(product_id, kind);
-- the mean sentiment of each kind
CREATE INDEX excerpt_by_kind_and_sentiment ON excerpt(product_id, kind, sentiment);

-- feedback as it came (and how much), by day, by rating; how much of each source, person and account, and which
DROP INDEX feedback_item_list;
CREATE INDEX feedback_item_of_product ON feedback_item(product_id);
CREATE INDEX feedback_item_by_day ON feedback_item(product_id, said_on);
CREATE INDEX feedback_item_by_rating ON feedback_item(product_id, rating);
CREATE INDEX feedback_item_by_source ON feedback_item(product_id, source_id);
CREATE INDEX feedback_item_by_person ON feedback_item(product_id, person_id);
CREATE INDEX feedback_item_by_account ON feedback_item(product_id, account_id);
