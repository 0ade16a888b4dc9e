-- Up Migration
-- What leaves the school by mail. The words stand here alone, so that a person can be forgotten.
create table mail (
  school text not null references school (id),
  id text not null,
  person text not null,
  -- Told: that there is something to read. Letter, receipt: the words themselves. Gathered: several things at once.
  kind text not null check (kind in ('told', 'letter', 'receipt', 'gathered')),
  subject text not null check (subject <> ''),
  body text not null,
  -- Where it leads within the application; '' nowhere.
  path text not null default '',
  state text not null default 'waiting' check (state in ('waiting', 'sent', 'refused', 'given-up')),
  -- By the machine's clock, as all that is tried again.
  made_at timestamptz not null default now(),
  next_try_at timestamptz not null default now(),
  tries integer not null default 0,
  sent_at timestamptz,
  -- Why it did not go, in a sentence.
  fault text not null default '',
  primary key (school, id),
  foreign key (school, person) references person (school, id)
);
create index mail_waiting on mail (school, next_try_at) where state = 'waiting';
create index mail_undelivered on mail (school) where state in ('refused', 'given-up');

-- What somebody is told: a student about their book, and the staff about theirs.
alter table notice add column person text;
update notice n set person = e.person from enrolment e where e.school = n.school and e.book = n.book and e.id = n.enrolment;
alter table notice alter column person set not null;
alter table notice add foreign key (school, person) references person (school, id);
alter table notice alter column enrolment drop not null;
alter table notice add column kind text not null default 'told';
alter table notice add column path text not null default '';
-- Whose words they are; null: the application's.
alter table notice add column written_by text;
alter table notice add column mail text;
drop index notice_enrolment;
create index notice_person on notice (school, person, at);
create index notice_gathered on notice (school, person) where kind = 'arrival' and mail is null;

-- What staff wrote to students of a book, and to whom.
create table letter (
  school text not null,
  book text not null,
  id text not null,
  assessment text,
  person text not null,
  subject text not null,
  body text not null,
  at timestamptz not null,
  primary key (school, book, id),
  foreign key (school, book) references book (school, id),
  foreign key (school, person) references person (school, id)
);
create table letter_copy (
  school text not null,
  book text not null,
  letter text not null,
  enrolment text not null,
  mail text not null,
  primary key (school, book, letter, enrolment),
  foreign key (school, book, letter) references letter (school, book, id),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  foreign key (school, mail) references mail (school, id)
);
create index letter_copy_enrolment on letter_copy (school, book, enrolment);

-- Questions of a student about one assessment, and their answers.
create table message (
  school text not null,
  book text not null,
  id text not null,
  assessment text not null,
  enrolment text not null,
  person text not null,
  -- Asked by the student, answered by the staff, or set aside: it needs no answer.
  kind text not null check (kind in ('question', 'answer', 'set-aside')),
  body text not null,
  at timestamptz not null,
  primary key (school, book, id),
  foreign key (school, book, assessment) references assessment (school, book, id),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  foreign key (school, person) references person (school, id)
);
create index message_thread on message (school, book, assessment, enrolment, at);

alter table batch drop constraint batch_kind_check;
alter table batch add constraint batch_kind_check
  check (kind in ('intake', 'paste', 'fill', 'clear', 'change', 'exception', 'undo', 'redo', 'restore', 'letter'));

-- Down Migration
update batch set kind = 'change' where kind = 'letter';
alter table batch drop constraint batch_kind_check;
alter table batch add constraint batch_kind_check
  check (kind in ('intake', 'paste', 'fill', 'clear', 'change', 'exception', 'undo', 'redo', 'restore'));
drop table message; drop table letter_copy; drop table letter;
drop index notice_gathered; drop index notice_person;
delete from notice where enrolment is null;
alter table notice drop column mail; alter table notice drop column written_by; alter table notice drop column path;
alter table notice drop column kind; alter table notice drop column person;
alter table notice alter column enrolment set not null;
create index notice_enrolment on notice (school, book, enrolment);
drop table mail;
