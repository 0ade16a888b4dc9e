-- Up Migration
-- Cells are written over and over: with room left on its page a row's next version stays beside it and no index is written.
alter table entry set (fillfactor = 80);
alter table attempt set (fillfactor = 80);

-- A number of the contract may be 10^9 itself.
alter table assessment alter column points type numeric(14, 4);
alter table entry alter column set_points type numeric(14, 4);
alter table attempt alter column score type numeric(14, 4);
alter table override alter column percent type numeric(14, 4);
alter table enrolment alter column extra_time_hours type numeric(14, 4);

-- Down Migration
alter table enrolment alter column extra_time_hours type numeric(9, 4);
alter table override alter column percent type numeric(13, 4);
alter table attempt alter column score type numeric(13, 4);
alter table entry alter column set_points type numeric(13, 4);
alter table assessment alter column points type numeric(13, 4);
alter table attempt reset (fillfactor);
alter table entry reset (fillfactor);
