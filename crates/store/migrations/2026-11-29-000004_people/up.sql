-- Steps say who made them, where people are known, and which earlier step they take back.

ALTER TABLE steps ADD COLUMN made_by TEXT;
ALTER TABLE steps ADD COLUMN takes_back_id INTEGER REFERENCES steps (id) ON DELETE SET NULL;

CREATE INDEX steps_taking_back ON steps (takes_back_id) WHERE takes_back_id IS NOT NULL;
