-- How much lies in a school is asked whenever a file is to come.
create index blob_room on blob (school) include (bytes);
