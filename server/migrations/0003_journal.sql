-- Up Migration
-- One line for every change, in commit order within its book. Lines are never altered: the database refuses it.
create table journal (
  school text not null,
  book text not null,
  seq integer not null,
  batch text not null,
  operation text not null,
  at timestamptz not null default clock_timestamp(),
  person text not null,
  kind text not null,
  assessment text,
  enrolment text,
  was text,
  becomes text,
  primary key (school, book, seq),
  foreign key (school, book) references book (school, id)
);
create index journal_batch on journal (school, book, batch);
create unique index journal_operation on journal (school, book, operation);
create index journal_cell on journal (school, book, assessment, enrolment, seq);

-- Reasons are free text and may name people: they stand beside the lines, one for a batch, so that they can be removed
-- without touching a line.
create table journal_reason (
  school text not null,
  book text not null,
  batch text not null,
  reason text not null,
  primary key (school, book, batch),
  foreign key (school, book) references book (school, id)
);

create function journal_stands() returns trigger language plpgsql as $$
begin
  raise exception 'journal lines are never altered' using errcode = 'restrict_violation';
end $$;
create trigger journal_stands before update or delete on journal for each row execute function journal_stands();
create trigger journal_stands_whole before truncate on journal for each statement execute function journal_stands();

-- A set of changes brought in together.
create table batch (
  school text not null,
  book text not null,
  id text not null,
  kind text not null check (kind in ('intake', 'undo')),
  title text not null,
  made_at timestamptz not null default clock_timestamp(),
  made_by text not null,
  cells integer not null,
  undone_by text,
  primary key (school, book, id),
  foreign key (school, book) references book (school, id)
);

-- Down Migration
drop table batch; drop table journal_reason; drop table journal; drop function journal_stands;
