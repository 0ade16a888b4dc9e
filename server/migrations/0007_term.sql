-- Up Migration
-- Whether an exception needs a reason, by the school's own will.
alter table school add column wants_reasons boolean not null default false;

-- A book's own zone where it is not the school's; a book that is put away is read and not changed.
alter table book add column time_zone text;
alter table book add column archived_at timestamptz;

-- What is put away stands in no sheet and no calculation, and comes back with all its scores.
alter table assessment add column archived_at timestamptz;

-- In which section somebody was, from when to when. An open stay is where they are now.
create table stay (
  school text not null,
  book text not null,
  enrolment text not null,
  number integer not null check (number >= 1),
  section text,
  since timestamptz not null default clock_timestamp(),
  until timestamptz,
  primary key (school, book, enrolment, number),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  foreign key (school, book, section) references section (school, book, id)
);
insert into stay (school, book, enrolment, number, section, since, until)
  select school, book, id, 1, section, entered_at, left_at from enrolment;

-- A final grade that a person set in the place of the one worked out.
create table override (
  school text not null,
  book text not null,
  enrolment text not null,
  version integer not null,
  percent numeric(13, 4) check (percent >= 0),
  letter text check (letter <> ''),
  primary key (school, book, enrolment),
  foreign key (school, book, enrolment) references enrolment (school, book, id)
);

-- When an exception ends by itself; `place` is the assessment, or '*' for the student as a whole.
create table exception_end (
  school text not null,
  book text not null,
  enrolment text not null,
  place text not null,
  kind text not null,
  until timestamptz not null,
  set_by text not null,
  -- One that was made anew since is another exception: the end is not its own.
  set_at timestamptz not null default clock_timestamp(),
  primary key (school, book, enrolment, place, kind),
  foreign key (school, book, enrolment) references enrolment (school, book, id)
);
create index exception_end_until on exception_end (school, until);

-- One-time links with which somebody gives themselves a password. Only a hash of the secret is kept.
create table invitation (
  hash text primary key,
  school text not null,
  person text not null,
  made_by text not null,
  expires_at timestamptz not null,
  foreign key (school, person) references person (school, id) on delete cascade
);
create index invitation_person on invitation (school, person);

-- What a student is told about their book, by the person who changed it.
create table notice (
  school text not null,
  id text not null,
  book text not null,
  enrolment text not null,
  at timestamptz not null default clock_timestamp(),
  body text not null check (body <> ''),
  seen_at timestamptz,
  primary key (school, id),
  foreign key (school, book, enrolment) references enrolment (school, book, id)
);
create index notice_enrolment on notice (school, book, enrolment);

-- Assessments that a person makes again and again: what they are, without their dates.
create table template (
  school text not null,
  person text not null,
  id text not null,
  title text not null check (title <> ''),
  body text not null,
  primary key (school, person, id),
  foreign key (school, person) references person (school, id)
);

alter table batch drop constraint batch_kind_check;
alter table batch add constraint batch_kind_check
  check (kind in ('intake', 'paste', 'fill', 'clear', 'change', 'exception', 'undo', 'redo', 'restore'));

-- Down Migration
update batch set kind = 'change' where kind = 'exception';
alter table batch drop constraint batch_kind_check;
alter table batch add constraint batch_kind_check
  check (kind in ('intake', 'paste', 'fill', 'clear', 'change', 'undo', 'redo', 'restore'));
drop table template; drop table notice; drop table invitation; drop table exception_end; drop table override; drop table stay;
alter table assessment drop column archived_at;
alter table book drop column archived_at; alter table book drop column time_zone;
alter table school drop column wants_reasons;
