-- Whose work it is is not said while it is marked, where the assessment says so, until the names are shown.
alter table assessment add column names_hidden boolean not null
  generated always as (coalesce((work::jsonb ->> 'namesHidden') = 'true' and (work::jsonb ->> 'namesShown') is null, false)) stored;
create index assessment_names_hidden on assessment (school, book) where names_hidden;
-- Whether assessments that take work are made so: the school's word, and a book's in place of it (null: as the school says).
alter table school add column hides_names boolean not null default false;
alter table book add column hides_names boolean;
-- What aliases of students are made with.
alter table school add column alias_key bytea not null
  default decode(replace(gen_random_uuid()::text || gen_random_uuid()::text, '-', ''), 'hex');
