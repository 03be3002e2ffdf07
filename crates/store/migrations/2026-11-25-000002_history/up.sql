-- Records keep only which of their states counts; states never change. A step of the history says
-- which records went from which state to which, so that undo and redo only point elsewhere.

-- What people entered, as the JSON that the API takes. Fractions stand in it as they were written.
CREATE TABLE states (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    body TEXT NOT NULL
);

-- One row for each source, frame and conversion, for the settings of a project, and for what the
-- house keeps. Without a state it is deleted, or a conversion that follows.
CREATE TABLE records (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    kind TEXT NOT NULL,
    source_id INTEGER REFERENCES records (id) ON DELETE CASCADE, -- of a conversion
    frame_id INTEGER REFERENCES records (id) ON DELETE CASCADE, -- of a conversion
    version INTEGER NOT NULL DEFAULT 1,
    state_id INTEGER
);

CREATE INDEX records_of_project ON records (project_id, kind);
CREATE UNIQUE INDEX record_of_conversion ON records (source_id, frame_id);
CREATE INDEX records_of_frame ON records (frame_id);

CREATE TABLE steps (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    parent_id INTEGER REFERENCES steps (id) ON DELETE CASCADE, -- none for the beginning
    redo_id INTEGER, -- the step that redo goes to from here
    label TEXT NOT NULL,
    made_at BIGINT NOT NULL -- milliseconds since 1970, UTC
);

CREATE INDEX steps_of_project ON steps (project_id);
CREATE INDEX steps_of_parent ON steps (parent_id);

CREATE TABLE changes (
    step_id INTEGER NOT NULL REFERENCES steps (id) ON DELETE CASCADE,
    record_id INTEGER NOT NULL REFERENCES records (id) ON DELETE CASCADE,
    before_id INTEGER,
    after_id INTEGER,
    PRIMARY KEY (step_id, record_id)
) WITHOUT ROWID;

CREATE INDEX changes_of_record ON changes (record_id);

-- Where the history of a project stands.
ALTER TABLE projects ADD COLUMN step_id INTEGER;

-- The numbers of states are found again by a mark while older rows move in.
ALTER TABLE states ADD COLUMN mark TEXT;

INSERT INTO states (mark, body)
SELECT 's' || id, json_object(
    'name', name, 'note', note,
    'geometry', json_object(
        'raster', json_array(width, height), 'pixel_aspect', pixel_aspect, 'squeeze', squeeze,
        'active', json_object('left', inset_left, 'top', inset_top, 'right', inset_right, 'bottom', inset_bottom),
        'rotation', rotation),
    'rate', rate, 'scan', scan, 'signal_range', signal_range)
FROM sources;

INSERT INTO states (mark, body)
SELECT 'f' || id, json_object(
    'name', name, 'note', note,
    'geometry', json_object(
        'raster', json_array(width, height), 'pixel_aspect', pixel_aspect, 'picture_ratio', picture_ratio, 'step', step),
    'rate', rate, 'scan', scan, 'signal_range', signal_range, 'method', default_method)
FROM frames;

INSERT INTO states (mark, body)
SELECT 'c' || source_id || '/' || frame_id, json_object(
    'own', json_object('method', method, 'zoom', zoom, 'shift', json_array(shift_x, shift_y)))
FROM conversions WHERE method IS NOT NULL;

INSERT INTO states (mark, body)
SELECT 'p' || id, json_object('name', name, 'method', 'fit') FROM projects;

-- Sources keep their numbers; the numbers of frames begin behind them.
INSERT INTO records (id, project_id, kind, version, state_id)
SELECT id, project_id, 'source', version, (SELECT states.id FROM states WHERE mark = 's' || sources.id)
FROM sources;

INSERT INTO records (id, project_id, kind, version, state_id)
SELECT id + (SELECT coalesce(max(id), 0) FROM sources), project_id, 'frame', version,
    (SELECT states.id FROM states WHERE mark = 'f' || frames.id)
FROM frames;

INSERT INTO records (project_id, kind, source_id, frame_id, version, state_id)
SELECT sources.project_id, 'conversion', source_id, frame_id + (SELECT coalesce(max(id), 0) FROM sources),
    conversions.version, (SELECT states.id FROM states WHERE mark = 'c' || source_id || '/' || frame_id)
FROM conversions JOIN sources ON sources.id = conversions.source_id;

INSERT INTO records (project_id, kind, version, state_id)
SELECT id, 'project', version, (SELECT states.id FROM states WHERE mark = 'p' || projects.id) FROM projects;

INSERT INTO steps (project_id, label, made_at) SELECT id, 'The beginning', changed_at FROM projects;

-- What is deleted is taken out by a first step, so that undo brings it back.
INSERT INTO steps (project_id, parent_id, label, made_at)
SELECT project_id, id, 'Delete what was deleted before there was a history', made_at FROM steps
WHERE project_id IN (SELECT project_id FROM sources WHERE deleted_at IS NOT NULL
    UNION SELECT project_id FROM frames WHERE deleted_at IS NOT NULL);

UPDATE steps SET redo_id = (SELECT next.id FROM steps AS next WHERE next.parent_id = steps.id);
UPDATE projects SET step_id = (SELECT max(steps.id) FROM steps WHERE steps.project_id = projects.id);

INSERT INTO changes (step_id, record_id, before_id)
SELECT projects.step_id, records.id, records.state_id
FROM records JOIN projects ON projects.id = records.project_id
WHERE (kind = 'source' AND records.id IN (SELECT id FROM sources WHERE deleted_at IS NOT NULL))
    OR (kind = 'frame' AND records.id IN (
        SELECT id + (SELECT coalesce(max(id), 0) FROM sources) FROM frames WHERE deleted_at IS NOT NULL));

UPDATE records SET state_id = NULL WHERE id IN (SELECT record_id FROM changes);

ALTER TABLE states DROP COLUMN mark;
DROP TABLE conversions;
DROP TABLE frames;
DROP TABLE sources;
ALTER TABLE projects DROP COLUMN name;
ALTER TABLE projects DROP COLUMN version;

-- The house keeps its frames and active pictures in a project of its own that no list shows.
INSERT INTO projects (id, demo, changed_at) VALUES (0, FALSE, 0);
INSERT INTO steps (project_id, label, made_at) VALUES (0, 'The beginning', 0);
UPDATE projects SET step_id = (SELECT id FROM steps WHERE project_id = 0) WHERE id = 0;
