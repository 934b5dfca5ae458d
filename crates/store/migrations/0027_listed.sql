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

-- excerpts by day, by sentiment, by kind, and as they came
CREATE INDEX excerpt_by_day ON excerpt(product_id, said_on);
CREATE INDEX excerpt_by_sentiment ON excerpt(product_id, sentiment);
CREATE INDEX excerpt_by_kind ON excerpt(product_id, kind);

-- feedback by day, by rating
DROP INDEX feedback_item_list;
CREATE INDEX feedback_item_by_day ON feedback_item(product_id, said_on);
CREATE INDEX feedback_item_by_rating ON feedback_item(product_id, rating);
-- how much is of each source, person and account, and which; of one of them, as before
DROP INDEX feedback_item_source;
DROP INDEX feedback_item_person;
DROP INDEX feedback_item_account;
CREATE INDEX feedback_item_source ON feedback_item(source_id, product_id);
CREATE INDEX feedback_item_person ON feedback_item(person_id, product_id);
CREATE INDEX feedback_item_account ON feedback_item(account_id, product_id);
