-- Lists of work in the orders in which they are looked at, each from an index alone: by title, state, size, MoSCoW, what it is part
-- of, release, team.
CREATE INDEX work_item_by_title ON work_item(product_id, title COLLATE NOCASE);
CREATE INDEX work_item_by_state ON work_item(product_id, state);
CREATE INDEX work_item_by_points ON work_item(product_id, points);
CREATE INDEX work_item_by_moscow ON work_item(product_id, moscow);
CREATE INDEX work_item_by_parent ON work_item(product_id, parent_id);
CREATE INDEX work_item_by_release ON work_item(product_id, release_id);
CREATE INDEX work_item_by_team ON work_item(product_id, team_id);
-- the stories, how many there are of each epic, and their points
CREATE INDEX work_item_by_level ON work_item(product_id, level, parent_id, points);
