-- Up Migration
-- Cells are written over and over: with room left on its page a row's next version stays beside it and no index is written.
alter table entry set (fillfactor = 80);
alter table attempt set (fillfactor = 80);

-- Down Migration
alter table attempt reset (fillfactor);
alter table entry reset (fillfactor);
