-- Up Migration
-- What a set of changes was, and which earlier set it puts back. A set is put back while some set that undoes it is
-- not itself undone.
alter table batch drop constraint batch_kind_check;
alter table batch add constraint batch_kind_check
  check (kind in ('intake', 'paste', 'fill', 'clear', 'change', 'undo', 'redo', 'restore'));
alter table batch add column undoes text;
update batch u set undoes = b.id from batch b where b.school = u.school and b.book = u.book and b.undone_by = u.id;
alter table batch drop column undone_by;
create index batch_undoes on batch (school, book, undoes) where undoes is not null;

-- The journal by student, by person, by kind and by day.
create index journal_enrolment on journal (school, book, enrolment, seq);
create index journal_person on journal (school, book, person, seq);
create index journal_kind on journal (school, book, kind, seq);
create index journal_at on journal (school, book, at);

-- Blocks of lines sealed a moment after they were written: each hash covers its lines and the hash before it.
create table journal_seal (
  school text not null,
  book text not null,
  block integer not null check (block >= 1),
  first_seq integer not null,
  last_seq integer not null check (last_seq >= first_seq),
  hash text not null,
  sealed_at timestamptz not null default clock_timestamp(),
  primary key (school, book, block),
  unique (school, book, first_seq),
  foreign key (school, book) references book (school, id)
);
create trigger journal_seal_stands before update or delete on journal_seal for each row execute function journal_stands();
create trigger journal_seal_stands_whole before truncate on journal_seal for each statement execute function journal_stands();

-- Texts of staff notes. Journal lines name them by id, so that a text can be blanked without a line being touched.
create table note_text (
  school text not null,
  book text not null,
  id text not null,
  body text not null,
  written_at timestamptz not null default clock_timestamp(),
  written_by text not null,
  primary key (school, book, id),
  foreign key (school, book) references book (school, id)
);

-- What staff wrote beside a cell, or beside a student as a whole (place '*'), and whether somebody wants a second look.
create table remark (
  school text not null,
  book text not null,
  enrolment text not null,
  place text not null,
  version integer not null,
  note text,
  flagged_by text,
  primary key (school, book, enrolment, place),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  foreign key (school, book, note) references note_text (school, book, id)
);

-- Groups of students that a teacher makes inside a book.
create table student_group (
  school text not null,
  book text not null,
  id text not null,
  title text not null check (title <> ''),
  version integer not null default 1,
  primary key (school, book, id),
  foreign key (school, book) references book (school, id)
);
create table student_group_member (
  school text not null,
  book text not null,
  student_group text not null,
  enrolment text not null,
  primary key (school, book, student_group, enrolment),
  foreign key (school, book, student_group) references student_group (school, book, id) on delete cascade,
  foreign key (school, book, enrolment) references enrolment (school, book, id)
);

-- A person's own ways of looking at a book: the ledger's address without its book.
create table saved_view (
  school text not null,
  book text not null,
  person text not null,
  id text not null,
  title text not null check (title <> ''),
  query text not null,
  primary key (school, book, person, id),
  foreign key (school, book) references book (school, id),
  foreign key (school, person) references person (school, id)
);

-- How far a person has read a book's journal: `since_seq` is where their visit before this one ended.
create table last_visit (
  school text not null,
  book text not null,
  person text not null,
  since_seq integer not null,
  since_at timestamptz not null,
  seq integer not null,
  at timestamptz not null default clock_timestamp(),
  primary key (school, book, person),
  foreign key (school, book) references book (school, id),
  foreign key (school, person) references person (school, id)
);

-- Who has the book open, and where. Worth nothing after a crash, so it is not logged.
create unlogged table presence (
  connection text primary key,
  school text not null,
  book text not null,
  person text not null,
  enrolment text,
  assessment text,
  at timestamptz not null default clock_timestamp()
);
create index presence_book on presence (school, book);

-- Every server hears of every change: the book and the number of its last line, nothing else.
create function tell_book() returns trigger language plpgsql as $$
begin
  perform pg_notify('book', new.school || ' ' || new.id || ' ' || new.seq);
  return null;
end $$;
create trigger tell_book after update of seq on book for each row when (old.seq is distinct from new.seq)
  execute function tell_book();

create function tell_presence() returns trigger language plpgsql as $$
begin
  perform pg_notify('presence', coalesce(new.school, old.school) || ' ' || coalesce(new.book, old.book));
  return null;
end $$;
create trigger tell_presence after insert or update of enrolment, assessment or delete on presence for each row
  execute function tell_presence();

-- Down Migration
drop trigger tell_presence on presence; drop function tell_presence; drop trigger tell_book on book; drop function tell_book;
drop table presence; drop table last_visit; drop table saved_view; drop table student_group_member; drop table student_group;
drop table remark; drop table note_text; drop table journal_seal;
drop index journal_at; drop index journal_kind; drop index journal_person; drop index journal_enrolment;
alter table batch add column undone_by text;
update batch b set undone_by = u.id from batch u where u.school = b.school and u.book = b.book and u.undoes = b.id;
alter table batch drop column undoes;
delete from batch where kind not in ('intake', 'undo');
alter table batch drop constraint batch_kind_check;
alter table batch add constraint batch_kind_check check (kind in ('intake', 'undo'));
