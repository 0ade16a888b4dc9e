-- Up Migration
-- What was released to whom, as it was then. `entry` is canonical JSON text; a withdrawn one keeps its row.
create table released_entry (
  school text not null,
  book text not null,
  enrolment text not null,
  assessment text not null,
  entry text not null,
  entry_version integer not null,
  released_at timestamptz not null,
  released_by text not null,
  withdrawn_at timestamptz,
  primary key (school, book, enrolment, assessment),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  foreign key (school, book, assessment) references assessment (school, book, id)
);
create index released_entry_assessment on released_entry (school, book, assessment);

-- Rules with their items as they were released, kept once for all whom they were released to.
create table released_skeleton (
  school text not null,
  book text not null,
  id text not null,
  skeleton text not null,
  rules_version integer not null,
  primary key (school, book, id),
  foreign key (school, book) references book (school, id)
);

-- The student's own figures, written down at each release and withdrawal and read from here, never worked out on the way out.
create table slip (
  school text not null,
  book text not null,
  enrolment text not null,
  skeleton text not null,
  body text not null,
  made_at timestamptz not null,
  primary key (school, book, enrolment),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  foreign key (school, book, skeleton) references released_skeleton (school, book, id)
);

-- Down Migration
drop table slip; drop table released_skeleton; drop table released_entry;
