-- Steps say who made them, where people are known, and which earlier step they take back.

ALTER TABLE steps ADD COLUMN made_by TEXT;
ALTER TABLE steps ADD COLUMN takes_back_id INTEGER REFERENCES steps (id) ON DELETE SET NULL;

CREATE INDEX steps_taking_back ON steps (takes_back_id) WHERE takes_back_id IS NOT NULL;

-- Links that show the plan of a project to whoever has them; what is kept of one is a digest.
CREATE TABLE links (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    name TEXT NOT NULL,
    sha256 TEXT NOT NULL UNIQUE,
    until BIGINT NOT NULL, -- milliseconds since 1970, UTC
    made_at BIGINT NOT NULL, -- milliseconds since 1970, UTC
    made_by TEXT
);

CREATE INDEX links_of_project ON links (project_id);
