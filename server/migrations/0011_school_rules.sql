-- Up Migration
-- The rules of a school, a version for every change; the last is in force. None: the school says nothing yet.
create table school_rules (
  school text not null references school,
  version integer not null check (version >= 1),
  operation text not null,
  body text not null,
  made_at timestamptz not null default clock_timestamp(),
  made_by text not null,
  reason text not null check (reason <> ''),
  primary key (school, version),
  unique (school, operation),
  foreign key (school, made_by) references person (school, id)
);
-- What the office said, and why, stands as the journals of its books do.
create function school_rules_stand() returns trigger language plpgsql as $$
begin
  raise exception 'versions of the rules of a school are never altered' using errcode = 'restrict_violation';
end $$;
create trigger school_rules_stand before update or delete on school_rules
  for each row execute function school_rules_stand();

-- Rules of a school on their way through its books: as a trial, or made. Each book is one row, which whoever works it out
-- holds locked: where a server is lost, so is its lock, and any other goes on.
create table school_turn (
  school text not null,
  id text not null,
  kind text not null check (kind in ('trial', 'make')),
  person text not null,
  -- The version that it was tried on, and the one that was made.
  version integer not null,
  makes integer,
  body text not null,
  made_at timestamptz not null default clock_timestamp(),
  primary key (school, id),
  foreign key (school, person) references person (school, id)
);
create table school_turn_book (
  school text not null,
  turn text not null,
  book text not null,
  position integer not null,
  -- What came of it, as JSON; null: it waits. Who would move stands apart: it is long, and asked for alone.
  answer text,
  movers text,
  primary key (school, turn, book),
  foreign key (school, turn) references school_turn (school, id) on delete cascade,
  foreign key (school, book) references book (school, id) on delete cascade
);
create index school_turn_waits on school_turn_book (school, turn, position) where answer is null;

-- Down Migration
drop table school_turn_book; drop table school_turn; drop table school_rules; drop function school_rules_stand;
