-- Up Migration
-- Files by what is in them. One that is still coming has no hash; the same bytes stand once for a school.
create table blob (
  school text not null references school (id),
  id text not null,
  sha256 text check (sha256 ~ '^[0-9a-f]{64}$'),
  bytes bigint not null check (bytes >= 0),
  primary key (school, id)
);
create unique index blob_content on blob (school, sha256);

create table blob_chunk (
  school text not null,
  blob text not null,
  -- Where it begins in the file.
  at bigint not null check (at >= 0),
  data bytea not null,
  primary key (school, blob, at),
  foreign key (school, blob) references blob (school, id) on delete cascade
);
-- Photographs and documents are packed already, and ranges are read.
alter table blob_chunk alter column data set storage external;

-- A file on its way, piece by piece. Whoever writes holds it; a writer who comes later takes it over.
create table upload (
  school text not null references school (id),
  id text not null,
  person text not null,
  blob text not null,
  bytes bigint not null check (bytes >= 0),
  received bigint not null default 0 check (received <= bytes),
  holder text not null default '',
  heard_at timestamptz not null,
  primary key (school, id),
  foreign key (school, blob) references blob (school, id),
  foreign key (school, person) references person (school, id)
);

-- What students hand in how: the settings beside the item's own, as JSON text.
alter table assessment add column work text not null default '{}';

-- What a student began, handed in or took back.
create table submission (
  school text not null,
  book text not null,
  id text not null,
  assessment text not null,
  enrolment text not null,
  state text not null check (state in ('begun', 'handed-in', 'taken-back', 'moved')),
  -- As it is typed, until it is handed in.
  typed text not null default '',
  link text not null default '',
  -- Word for word what the student ticked.
  statement text,
  receipt text,
  attempt integer,
  begun_at timestamptz not null,
  handed_in_at timestamptz,
  -- When "Hand in" was pressed, as the page says: a trace, never what counts.
  pressed_at timestamptz,
  version integer not null default 1,
  primary key (school, book, id),
  foreign key (school, book, assessment) references assessment (school, book, id),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  check ((state = 'begun') = (receipt is null))
);
create unique index submission_begun on submission (school, book, assessment, enrolment) where state = 'begun';
create unique index submission_receipt on submission (school, receipt);
create index submission_cell on submission (school, book, assessment, enrolment, begun_at);

create table submission_file (
  school text not null,
  book text not null,
  submission text not null,
  id text not null,
  -- As its student called it.
  name text not null check (octet_length(name) between 1 and 255),
  bytes bigint not null,
  upload text not null,
  -- Once all of it is there.
  sha256 text,
  media_type text,
  added_at timestamptz not null,
  primary key (school, book, submission, id),
  foreign key (school, book, submission) references submission (school, book, id),
  foreign key (school, upload) references upload (school, id)
);
create index submission_file_content on submission_file (school, sha256);
create index submission_file_upload on submission_file (school, upload);

-- What happened to a submission, beside the journal: neither takes the book's lock. Never altered.
create table submission_trace (
  school text not null,
  book text not null,
  submission text not null,
  number bigint generated always as identity,
  at timestamptz not null,
  person text not null,
  kind text not null,
  -- Ids, numbers and moments, as JSON text.
  detail text not null default '{}',
  primary key (school, book, submission, number),
  foreign key (school, book, submission) references submission (school, book, id)
);
create trigger submission_trace_stands before update or delete on submission_trace
  for each row execute function journal_stands();

-- Down Migration
drop table submission_trace; drop table submission_file; drop table submission; drop table upload; drop table blob_chunk;
drop table blob; alter table assessment drop column work;
