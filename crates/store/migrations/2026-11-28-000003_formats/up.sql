-- States say in which format they are, every number of another row is a foreign key, steps say when the
-- branch that begins with them was left, and the file says which version of the program wrote it.
-- Foreign keys are off while tables are made again, and checked afterwards.

ALTER TABLE states ADD COLUMN format INTEGER NOT NULL DEFAULT 1;

CREATE TABLE meta (
    name TEXT PRIMARY KEY NOT NULL,
    value TEXT NOT NULL
);

CREATE TABLE new_projects (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    demo BOOLEAN NOT NULL DEFAULT FALSE,
    changed_at BIGINT NOT NULL, -- milliseconds since 1970, UTC
    deleted_at BIGINT,
    step_id INTEGER REFERENCES steps (id) DEFERRABLE INITIALLY DEFERRED -- where its history stands
);
INSERT INTO new_projects (id, demo, changed_at, deleted_at, step_id)
SELECT id, demo, changed_at, deleted_at, (SELECT steps.id FROM steps WHERE steps.id = step_id) FROM projects;

CREATE TABLE new_records (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    kind TEXT NOT NULL,
    source_id INTEGER REFERENCES records (id) ON DELETE CASCADE, -- of a conversion
    frame_id INTEGER REFERENCES records (id) ON DELETE CASCADE, -- of a conversion
    version INTEGER NOT NULL DEFAULT 1,
    state_id INTEGER REFERENCES states (id) -- none: deleted, or a conversion that follows
);
INSERT INTO new_records (id, project_id, kind, source_id, frame_id, version, state_id)
SELECT id, project_id, kind, source_id, frame_id, version, (SELECT states.id FROM states WHERE states.id = state_id)
FROM records;

CREATE TABLE new_steps (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    parent_id INTEGER REFERENCES steps (id) DEFERRABLE INITIALLY DEFERRED, -- none for the beginning
    redo_id INTEGER REFERENCES steps (id) DEFERRABLE INITIALLY DEFERRED, -- where redo goes to from here
    label TEXT NOT NULL,
    made_at BIGINT NOT NULL, -- milliseconds since 1970, UTC
    left_at BIGINT -- when the branch that begins with it was left; none while undo and redo come by it
);
-- When a branch was left is not known of older files: it counts from now.
INSERT INTO new_steps (id, project_id, parent_id, redo_id, label, made_at, left_at)
SELECT id, project_id, parent_id, (SELECT next.id FROM steps AS next WHERE next.id = steps.redo_id), label, made_at,
    CASE WHEN parent_id IS NOT NULL
        AND (SELECT parent.redo_id FROM steps AS parent WHERE parent.id = steps.parent_id) IS NOT steps.id
        THEN CAST(strftime('%s', 'now') AS INTEGER) * 1000 END
FROM steps;

CREATE TABLE new_changes (
    step_id INTEGER NOT NULL REFERENCES steps (id) ON DELETE CASCADE,
    record_id INTEGER NOT NULL REFERENCES records (id) ON DELETE CASCADE,
    before_id INTEGER REFERENCES states (id),
    after_id INTEGER REFERENCES states (id),
    PRIMARY KEY (step_id, record_id)
) WITHOUT ROWID;
INSERT INTO new_changes (step_id, record_id, before_id, after_id)
SELECT step_id, record_id, (SELECT id FROM states WHERE id = before_id), (SELECT id FROM states WHERE id = after_id)
FROM changes;

-- A number is never used twice, also by what has been deleted.
DELETE FROM sqlite_sequence WHERE name IN ('new_projects', 'new_records', 'new_steps');
INSERT INTO sqlite_sequence (name, seq)
SELECT 'new_' || name, seq FROM sqlite_sequence WHERE name IN ('projects', 'records', 'steps');

DROP TABLE changes;
DROP TABLE steps;
DROP TABLE records;
DROP TABLE projects;
ALTER TABLE new_projects RENAME TO projects;
ALTER TABLE new_records RENAME TO records;
ALTER TABLE new_steps RENAME TO steps;
ALTER TABLE new_changes RENAME TO changes;

CREATE INDEX projects_at_step ON projects (step_id);
CREATE INDEX records_of_project ON records (project_id, kind);
CREATE UNIQUE INDEX record_of_conversion ON records (source_id, frame_id);
CREATE INDEX records_of_frame ON records (frame_id);
CREATE INDEX records_in_state ON records (state_id);
CREATE INDEX steps_of_project ON steps (project_id);
CREATE INDEX steps_of_parent ON steps (parent_id);
CREATE INDEX steps_of_redo ON steps (redo_id);
CREATE INDEX steps_left ON steps (left_at) WHERE left_at IS NOT NULL;
CREATE INDEX changes_of_record ON changes (record_id);
CREATE INDEX changes_from_state ON changes (before_id) WHERE before_id IS NOT NULL;
CREATE INDEX changes_to_state ON changes (after_id) WHERE after_id IS NOT NULL;
