-- Whether a reading rests on points that were tracked: how far the network is off is no matter of it.
ALTER TABLE readings ADD COLUMN by_points INTEGER NOT NULL DEFAULT 0;
-- From in front and from overhead a rate is told now; what was kept of such films said that none is.
DELETE FROM readings WHERE json_extract(read_as, '$.view') NOT LIKE 'side-%' AND cycle IS NULL;
