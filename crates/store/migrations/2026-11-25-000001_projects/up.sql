-- "RATM" in ASCII: says that the file is a Ratiomet data file.
PRAGMA application_id = 1380013133;

CREATE TABLE projects (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    version INTEGER NOT NULL DEFAULT 1,
    name TEXT NOT NULL,
    demo BOOLEAN NOT NULL DEFAULT FALSE,
    changed_at BIGINT NOT NULL, -- milliseconds since 1970, UTC
    deleted_at BIGINT
);

-- Fractions are kept as they were written, never as floating point.
CREATE TABLE sources (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    version INTEGER NOT NULL DEFAULT 1,
    name TEXT NOT NULL,
    note TEXT NOT NULL,
    width INTEGER NOT NULL,
    height INTEGER NOT NULL,
    pixel_aspect TEXT NOT NULL,
    squeeze TEXT NOT NULL,
    inset_left INTEGER NOT NULL,
    inset_top INTEGER NOT NULL,
    inset_right INTEGER NOT NULL,
    inset_bottom INTEGER NOT NULL,
    rotation INTEGER NOT NULL,
    rate TEXT,
    scan TEXT NOT NULL,
    signal_range TEXT NOT NULL,
    deleted_at BIGINT
);

CREATE TABLE frames (
    id INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL,
    project_id INTEGER NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    version INTEGER NOT NULL DEFAULT 1,
    name TEXT NOT NULL,
    note TEXT NOT NULL,
    width INTEGER NOT NULL,
    height INTEGER NOT NULL,
    pixel_aspect TEXT NOT NULL,
    picture_ratio TEXT,
    step INTEGER NOT NULL,
    default_method TEXT NOT NULL,
    rate TEXT,
    scan TEXT NOT NULL,
    signal_range TEXT NOT NULL,
    deleted_at BIGINT
);

-- One row for a conversion that somebody has touched; without a method it follows its frame.
CREATE TABLE conversions (
    source_id INTEGER NOT NULL REFERENCES sources (id) ON DELETE CASCADE,
    frame_id INTEGER NOT NULL REFERENCES frames (id) ON DELETE CASCADE,
    version INTEGER NOT NULL DEFAULT 1,
    method TEXT,
    zoom TEXT NOT NULL,
    shift_x TEXT NOT NULL,
    shift_y TEXT NOT NULL,
    PRIMARY KEY (source_id, frame_id)
);

CREATE INDEX sources_of_project ON sources (project_id);
CREATE INDEX frames_of_project ON frames (project_id);
CREATE INDEX conversions_of_frame ON conversions (frame_id);
