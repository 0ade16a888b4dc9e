-- Up Migration
-- Rubric and feedback as they were released, each as canonical text with the hashes of its files; a withdrawn one keeps its row.
create table released_part (
  school text not null,
  book text not null,
  enrolment text not null,
  assessment text not null,
  part text not null check (part in ('rubric', 'feedback')),
  body text not null,
  -- What was said to everybody of a release.
  comment text not null default '',
  released_at timestamptz not null,
  released_by text not null,
  withdrawn_at timestamptz,
  primary key (school, book, enrolment, assessment, part),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  foreign key (school, book, assessment) references assessment (school, book, id),
  foreign key (school, released_by) references person (school, id)
);
create index released_part_assessment on released_part (school, book, assessment);

-- What a student did with what was released: when first. Beside the journal, as all traces.
create table slip_trace (
  school text not null,
  book text not null,
  enrolment text not null,
  assessment text not null,
  kind text not null check (kind in ('opened', 'played', 'fetched')),
  -- Of a recording or a file; '' of the slip as a whole.
  file text not null default '',
  -- The release that it was done with.
  released_at timestamptz not null,
  at timestamptz not null,
  primary key (school, book, enrolment, assessment, kind, file, released_at),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  foreign key (school, book, assessment) references assessment (school, book, id)
);
create trigger slip_trace_stands before update or delete on slip_trace
  for each row execute function journal_stands();

-- Down Migration
drop table slip_trace; drop table released_part;
