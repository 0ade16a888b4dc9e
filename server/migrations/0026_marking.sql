-- Up Migration
-- What an assessment is marked by (core/rubric), as JSON; every version stays. No text: it is marked without one from then on.
create table rubric (
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

-- What one criterion of one piece of work was given: points, left out, or neither, where it was taken back.
create table criterion_mark (
  school text not null,
  book text not null,
  assessment text not null,
  enrolment text not null,
  -- A submission, or the attempt recorded by hand as hand-1, hand-2.
  work text not null,
  criterion text not null,
  version integer not null,
  -- The version of the rubric that it was given by.
  rubric integer not null,
  points numeric(13, 4) check (points >= 0),
  left_out boolean not null,
  person text not null,
  at timestamptz not null,
  primary key (school, book, assessment, enrolment, work, criterion),
  check (not left_out or points is null),
  foreign key (school, book, assessment) references assessment (school, book, id),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  foreign key (school, person) references person (school, id)
);

-- Down Migration
drop table criterion_mark; drop table rubric;
