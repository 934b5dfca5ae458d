-- How far the stories at and below each work item are, on all levels, added up. Kept by triggers, so that a list of all work can be
-- put in the order of it; core's `specify::Hierarchy` is the rule, and `iron-kite verify` compares.
CREATE TABLE work_below(
  item_id INTEGER PRIMARY KEY,
  stories INTEGER NOT NULL,
  stories_done INTEGER NOT NULL,
  points REAL NOT NULL,
  points_done REAL NOT NULL,
  -- Stories that have no points yet.
  without_points INTEGER NOT NULL
) STRICT;

INSERT INTO work_below(item_id, stories, stories_done, points, points_done, without_points)
  SELECT w.id, count(s.id), coalesce(sum(s.state = 'done'), 0), total(s.points), total(iif(s.state = 'done', s.points, 0)),
    coalesce(sum(s.id IS NOT NULL AND s.points IS NULL), 0)
  FROM work_item w LEFT JOIN (WITH RECURSIVE line(id, above) AS (
      SELECT id, id FROM work_item WHERE level = 'story'
      UNION SELECT line.id, p.parent_id FROM line JOIN work_item p ON p.id = line.above WHERE p.parent_id IS NOT NULL)
    SELECT line.above, i.* FROM line JOIN work_item i ON i.id = line.id) s ON s.above = w.id
  GROUP BY w.id;

-- Whatever comes may be what others are a part of already: a whole workspace comes row by row.
CREATE TRIGGER below_work_insert AFTER INSERT ON work_item BEGIN
  INSERT INTO work_below(item_id, stories, stories_done, points, points_done, without_points)
    SELECT NEW.id, coalesce(sum(b.stories), 0) + (NEW.level = 'story'),
      coalesce(sum(b.stories_done), 0) + (NEW.level = 'story' AND NEW.state = 'done'),
      total(b.points) + iif(NEW.level = 'story', coalesce(NEW.points, 0), 0),
      total(b.points_done) + iif(NEW.level = 'story' AND NEW.state = 'done', coalesce(NEW.points, 0), 0),
      coalesce(sum(b.without_points), 0) + (NEW.level = 'story' AND NEW.points IS NULL)
    FROM work_item c JOIN work_below b ON b.item_id = c.id WHERE c.parent_id = NEW.id;
  UPDATE work_below SET stories = work_below.stories + x.stories, stories_done = work_below.stories_done + x.stories_done,
      points = work_below.points + x.points, points_done = work_below.points_done + x.points_done,
      without_points = work_below.without_points + x.without_points
    FROM work_below x WHERE x.item_id = NEW.id AND work_below.item_id IN (SELECT a.id FROM (WITH RECURSIVE above(id) AS (
      SELECT NEW.parent_id UNION SELECT w.parent_id FROM above JOIN work_item w ON w.id = above.id) SELECT id FROM above) a);
END;

-- It is taken from what it was below, changed, and put to what it is below.
CREATE TRIGGER below_work_update AFTER UPDATE OF parent_id, level, state, points ON work_item
WHEN (NEW.parent_id, NEW.level, NEW.state, NEW.points) IS NOT (OLD.parent_id, OLD.level, OLD.state, OLD.points) BEGIN
  UPDATE work_below SET stories = work_below.stories - x.stories, stories_done = work_below.stories_done - x.stories_done,
      points = work_below.points - x.points, points_done = work_below.points_done - x.points_done,
      without_points = work_below.without_points - x.without_points
    FROM work_below x WHERE x.item_id = NEW.id AND work_below.item_id IN (SELECT a.id FROM (WITH RECURSIVE above(id) AS (
      SELECT OLD.parent_id UNION SELECT w.parent_id FROM above JOIN work_item w ON w.id = above.id) SELECT id FROM above) a);
  UPDATE work_below SET stories = stories + (NEW.level = 'story') - (OLD.level = 'story'),
      stories_done = stories_done + (NEW.level = 'story' AND NEW.state = 'done') - (OLD.level = 'story' AND OLD.state = 'done'),
      points = points + iif(NEW.level = 'story', coalesce(NEW.points, 0), 0) - iif(OLD.level = 'story', coalesce(OLD.points, 0), 0),
      points_done = points_done + iif(NEW.level = 'story' AND NEW.state = 'done', coalesce(NEW.points, 0), 0)
        - iif(OLD.level = 'story' AND OLD.state = 'done', coalesce(OLD.points, 0), 0),
      without_points = without_points + (NEW.level = 'story' AND NEW.points IS NULL) - (OLD.level = 'story' AND OLD.points IS NULL)
    WHERE item_id = NEW.id;
  UPDATE work_below SET stories = work_below.stories + x.stories, stories_done = work_below.stories_done + x.stories_done,
      points = work_below.points + x.points, points_done = work_below.points_done + x.points_done,
      without_points = work_below.without_points + x.without_points
    FROM work_below x WHERE x.item_id = NEW.id AND work_below.item_id IN (SELECT a.id FROM (WITH RECURSIVE above(id) AS (
      SELECT NEW.parent_id UNION SELECT w.parent_id FROM above JOIN work_item w ON w.id = above.id) SELECT id FROM above) a);
END;

CREATE TRIGGER below_work_delete AFTER DELETE ON work_item BEGIN
  UPDATE work_below SET stories = work_below.stories - x.stories, stories_done = work_below.stories_done - x.stories_done,
      points = work_below.points - x.points, points_done = work_below.points_done - x.points_done,
      without_points = work_below.without_points - x.without_points
    FROM work_below x WHERE x.item_id = OLD.id AND work_below.item_id IN (SELECT a.id FROM (WITH RECURSIVE above(id) AS (
      SELECT OLD.parent_id UNION SELECT w.parent_id FROM above JOIN work_item w ON w.id = above.id) SELECT id FROM above) a);
  DELETE FROM work_below WHERE item_id = OLD.id;
END;
