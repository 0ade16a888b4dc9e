-- Up Migration
-- An assessment given back to a student, until a day: they can hand in once more, whatever attempts there were.
create table reopening (
  school text not null,
  book text not null,
  assessment text not null,
  enrolment text not null,
  number bigint generated always as identity,
  at timestamptz not null,
  until timestamptz not null,
  -- What is handed in then stands in place of the last attempt, not beside it.
  same boolean not null,
  comment text not null default '',
  person text not null,
  primary key (school, book, assessment, enrolment, number),
  foreign key (school, book, assessment) references assessment (school, book, id),
  foreign key (school, book, enrolment) references enrolment (school, book, id),
  foreign key (school, person) references person (school, id)
);

-- Where work went, and where it came from: receipt and times go with it, and stay readable here.
alter table submission add column moved_book text;
alter table submission add column moved_submission text;
drop index submission_receipt;
create unique index submission_receipt on submission (school, receipt) where state <> 'moved';

-- Down Migration
drop index submission_receipt;
update submission set receipt = receipt || '-moved-' || id where state = 'moved';
create unique index submission_receipt on submission (school, receipt);
alter table submission drop column moved_submission;
alter table submission drop column moved_book;
drop table reopening;
