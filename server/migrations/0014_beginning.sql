-- Up Migration
-- The codes with which the first school may be made, hashed: whichever server printed one, every server takes it.
create table setup_code (
  hash text primary key,
  made_at timestamptz not null default now()
);
-- Made up to look at, with a clock of its own that stands still.
alter table school add column demo boolean not null default false;
update school set demo = fixed_now is not null;
alter table school add constraint school_clock check (demo or fixed_now is null);

-- Down Migration
alter table school drop constraint school_clock;
alter table school drop column demo;
drop table setup_code;
