-- Up Migration
-- The order in which a thread was written: two messages may have one moment.
alter table message add column nth bigint;
update message m set nth = o.nth from
  (select school, book, id, row_number() over (order by at, id) as nth from message) o
  where o.school = m.school and o.book = m.book and o.id = m.id;
alter table message alter column nth set not null;
alter table message alter column nth add generated always as identity;
select setval(pg_get_serial_sequence('message', 'nth'), coalesce((select max(nth) from message), 0) + 1, false);
drop index message_thread;
create index message_thread on message (school, book, assessment, enrolment, nth);

-- Down Migration
drop index message_thread;
create index message_thread on message (school, book, assessment, enrolment, at);
alter table message drop column nth;
