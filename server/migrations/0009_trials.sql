-- Up Migration
-- Trials that somebody keeps beside a book's rules, to compare them and take them up again. Nothing reads them but their page.
create table kept_trial (
  school text not null,
  book text not null,
  person text not null,
  id text not null,
  title text not null check (title <> ''),
  body text not null,
  made_at timestamptz not null default clock_timestamp(),
  primary key (school, book, person, id),
  foreign key (school, book) references book (school, id) on delete cascade,
  foreign key (school, person) references person (school, id) on delete cascade
);

-- Down Migration
drop table kept_trial;
