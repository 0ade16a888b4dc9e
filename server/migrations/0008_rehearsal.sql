-- Up Migration
-- What each member of staff invented for a student who does not exist, to see what such a student would read. It stands
-- beside the book: no calculation, count or export of it reads this table.
create table rehearsal (
  school text not null,
  book text not null,
  person text not null,
  body text not null,
  primary key (school, book, person),
  foreign key (school, book) references book (school, id) on delete cascade,
  foreign key (school, person) references person (school, id) on delete cascade
);

-- Down Migration
drop table rehearsal;
