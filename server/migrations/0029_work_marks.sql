-- Up Migration
-- Marks on pieces of work, each a W3C annotation with a version of its own.
create table work_mark (
  school text not null,
  book text not null,
  submission text not null,
  id text not null,
  -- A file of the submission, or what was typed in it.
  leaf text not null,
  annotation text not null,
  -- Taken off: it stays here as it was last.
  removed boolean not null default false,
  version integer not null,
  -- Who made it, and who wrote it last.
  person text not null,
  writer text not null,
  made_at timestamptz not null,
  changed_at timestamptz not null,
  primary key (school, book, submission, id),
  foreign key (school, book, submission) references submission (school, book, id),
  foreign key (school, person) references person (school, id),
  foreign key (school, writer) references person (school, id)
);

-- How often the marks of a piece of work were changed, and which of these states has its line in the journal.
create table marked_work (
  school text not null,
  book text not null,
  submission text not null,
  version integer not null,
  person text not null,
  -- By the machine's clock.
  changed_at timestamptz not null default now(),
  rested integer not null default 0,
  primary key (school, book, submission),
  foreign key (school, book, submission) references submission (school, book, id),
  foreign key (school, person) references person (school, id)
);
create index marked_work_restless on marked_work (changed_at) where rested < version;

-- Down Migration
drop table marked_work; drop table work_mark;
