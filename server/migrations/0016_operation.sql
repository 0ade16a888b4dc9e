-- Up Migration
-- What was asked and answered, so that the same operation once more gets the same answer, and another under its id none.
-- For single cells the journal's line is that: the hash stands beside it, outside of what is sealed.
create table operation (
  school text not null references school (id),
  id text not null,
  book text not null,
  person text not null,
  -- SHA-256 of route and canonical body.
  fingerprint text not null,
  answer text not null,
  -- By the machine's clock: it is forgotten after 30 days.
  at timestamptz not null default clock_timestamp(),
  primary key (school, id)
);
create index operation_at on operation (at);
alter table journal add column fingerprint text;

-- Down Migration
alter table journal drop column fingerprint;
drop table operation;
