-- Names are hidden until they are shown, as the core says it: a "namesShown" that is not true shows nothing.
drop index assessment_names_hidden;
alter table assessment drop column names_hidden;
alter table assessment add column names_hidden boolean not null
  generated always as (coalesce(work::jsonb ->> 'namesHidden', 'false') = 'true'
    and coalesce(work::jsonb ->> 'namesShown', 'false') <> 'true') stored;
create index assessment_names_hidden on assessment (school, book) where names_hidden;
