DROP TABLE conversions;
DROP TABLE frames;
DROP TABLE sources;
DROP TABLE projects;
