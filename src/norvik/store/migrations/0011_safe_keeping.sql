-- Files that have to go with rows that were deleted: worked off after the deletion, at the next
-- start and by the worker, so that a stop in between leaves nothing behind. path: in the data folder.
CREATE TABLE IF NOT EXISTS files_to_remove (
    path TEXT PRIMARY KEY
) STRICT;

-- Which clip an upload became: asked again, the same answer is given.
CREATE TABLE IF NOT EXISTS taken_uploads (
    upload_id TEXT PRIMARY KEY,
    clip_id INTEGER NOT NULL,
    job_id INTEGER NOT NULL
) STRICT;
