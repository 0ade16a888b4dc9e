-- Up Migration
-- Files that staff put beside a piece of work: recordings, files given back, and what a staff note has with it.
create table feedback_attachment (
  school text not null,
  book text not null,
  assessment text not null,
  id text not null,
  purpose text not null check (purpose in ('voice', 'camera', 'given', 'staff')),
  -- Of no student: it is given to everybody.
  enrolment text,
  -- A submission, or the attempt recorded by hand as hand-1, hand-2.
  work text,
  name text not null,
  upload text not null,
  -- Null: it is not all there; of a recording, that it goes on, or broke off.
  sha256 text,
  media_type text,
  -- Of a recording that was ended by its page: its length, and how loud it is from its beginning to its end.
  seconds numeric(6, 1) check (seconds >= 0),
  waveform smallint[] not null default '{}',
  -- Taken off: it stays here and can be put back.
  removed boolean not null default false,
  version integer not null default 1,
  -- Who made it, and who wrote it last, when by the machine's clock.
  person text not null,
  writer text not null,
  added_at timestamptz not null,
  changed_at timestamptz not null default now(),
  -- The version that has its line in the journal.
  rested integer not null default 0,
  primary key (school, book, assessment, id),
  check ((enrolment is null) = (work is null)),
  check (enrolment is not null or purpose = 'given'),
  foreign key (school, book, assessment) references assessment (school, book, id),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  foreign key (school, upload) references upload (school, id),
  foreign key (school, person) references person (school, id),
  foreign key (school, writer) references person (school, id)
);
create index feedback_attachment_work on feedback_attachment (school, book, assessment, enrolment, work);
create index feedback_attachment_upload on feedback_attachment (school, upload);
create index feedback_attachment_restless on feedback_attachment (changed_at) where rested < version and sha256 is not null;

-- Down Migration
drop table feedback_attachment;
