-- Up Migration
-- What is to be released at a moment, or once all of it is done: once, by whichever server comes first, unless it is called
-- off before.
create table planned_release (
  school text not null,
  book text not null,
  id text not null,
  assessment text not null,
  -- Null: everybody who is in the book then.
  enrolments text[],
  parts text[] not null,
  move_rules boolean not null,
  comment text,
  tell text,
  -- By the school's clock; null: when all are done.
  at timestamptz,
  planned_by text not null,
  done_at timestamptz,
  called_off_at timestamptz,
  -- Why it could not be done, in a sentence; '' where nothing is wrong.
  fault text not null default '',
  primary key (school, book, id),
  foreign key (school, book, assessment) references assessment (school, book, id),
  foreign key (school, planned_by) references person (school, id)
);
create index planned_release_due on planned_release (at) where done_at is null and called_off_at is null;

-- When it was last looked whether all are done, by the machine's clock: beside the book, as traces are.
create table planned_release_look (
  school text not null,
  book text not null,
  id text not null,
  at timestamptz not null default now(),
  primary key (school, book, id),
  foreign key (school, book, id) references planned_release (school, book, id)
);

-- Down Migration
drop table planned_release_look; drop table planned_release;
