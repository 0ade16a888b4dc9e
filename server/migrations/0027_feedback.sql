-- Up Migration
-- The end note of one piece of work: a text that several may write at once, as a Yjs document, merged as its pieces come.
create table end_note (
  school text not null,
  book text not null,
  assessment text not null,
  enrolment text not null,
  -- A submission, or the attempt recorded by hand as hand-1, hand-2.
  work text not null,
  state bytea not null,
  version integer not null,
  -- Who wrote last, and when by the machine's clock.
  person text not null,
  changed_at timestamptz not null default now(),
  -- The version that has its line in the journal.
  rested integer not null default 0,
  primary key (school, book, assessment, enrolment, work),
  foreign key (school, book, assessment) references assessment (school, book, id),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  foreign key (school, person) references person (school, id)
);
create index end_note_restless on end_note (changed_at) where rested < version;

-- Words of feedback that are used again: a person's own, a book's, the school's.
create table phrase (
  school text not null references school (id),
  id text not null,
  scope text not null check (scope in ('own', 'book', 'school')),
  -- Of a book's phrase alone.
  book text,
  person text not null,
  words text not null check (length(words) between 1 and 1000),
  version integer not null default 1,
  made_at timestamptz not null default now(),
  removed_at timestamptz,
  primary key (school, id),
  check ((scope = 'book') = (book is not null)),
  foreign key (school, book) references book (school, id),
  foreign key (school, person) references person (school, id)
);

-- Each time that one was put into a note.
create table phrase_use (
  school text not null,
  phrase text not null,
  operation text not null,
  primary key (school, phrase, operation),
  foreign key (school, phrase) references phrase (school, id)
);

-- Down Migration
drop table phrase_use; drop table phrase; drop table end_note;
