-- Up Migration
-- What an assessment asks for, in rich text as JSON; every version stays. No text: they were taken away.
create table instruction (
  school text not null,
  book text not null,
  assessment text not null,
  version integer not null,
  body text,
  person text not null,
  at timestamptz not null,
  primary key (school, book, assessment, version),
  foreign key (school, book, assessment) references assessment (school, book, id),
  foreign key (school, person) references person (school, id)
);

-- Files that go with it: to be read, or a worksheet of which every student takes a copy.
create table handout (
  school text not null,
  book text not null,
  assessment text not null,
  id text not null,
  name text not null check (octet_length(name) between 1 and 255),
  bytes bigint not null,
  upload text not null,
  sha256 text,
  media_type text,
  worksheet boolean not null,
  added_at timestamptz not null,
  primary key (school, book, assessment, id),
  foreign key (school, book, assessment) references assessment (school, book, id),
  foreign key (school, upload) references upload (school, id)
);
create index handout_upload on handout (school, upload);

-- Down Migration
drop table handout; drop table instruction;
