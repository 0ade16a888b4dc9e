-- Up Migration
-- A school has one clock, which gives every moment that people read or rules use. A demo's differs from the machine's by an
-- offset and runs; tests and pictures may hold it still.
alter table school add column clock_offset interval not null default '0';
alter table school drop constraint school_clock;
alter table school add constraint school_clock check (demo or (fixed_now is null and clock_offset = '0'));
update school set clock_offset = fixed_now - clock_timestamp(), fixed_now = null where fixed_now is not null;

create function school_now(of text) returns timestamptz language sql volatile strict as
  'select coalesce(s.fixed_now, clock_timestamp() + s.clock_offset) from school s where s.id = of';

-- Whoever writes one of these says the moment: none is the machine's by oversight.
alter table journal alter column at drop default;
alter table batch alter column made_at drop default;
alter table rules_version alter column made_at drop default;
alter table note_text alter column written_at drop default;
alter table last_visit alter column at drop default;
alter table stay alter column since drop default;
alter table exception_end alter column set_at drop default;
alter table notice alter column at drop default;
alter table saved_trial alter column made_at drop default;
alter table school_rules alter column made_at drop default;

-- Down Migration
alter table school_rules alter column made_at set default clock_timestamp();
alter table saved_trial alter column made_at set default clock_timestamp();
alter table notice alter column at set default clock_timestamp();
alter table exception_end alter column set_at set default clock_timestamp();
alter table stay alter column since set default clock_timestamp();
alter table last_visit alter column at set default clock_timestamp();
alter table note_text alter column written_at set default clock_timestamp();
alter table rules_version alter column made_at set default now();
alter table batch alter column made_at set default clock_timestamp();
alter table journal alter column at set default clock_timestamp();
drop function school_now;
alter table school drop constraint school_clock;
alter table school add constraint school_clock check (demo or fixed_now is null);
alter table school drop column clock_offset;
