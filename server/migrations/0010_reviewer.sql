-- Up Migration
-- Somebody who reads a book with its drafts and changes nothing in it.
alter table book_staff drop constraint book_staff_role_check;
alter table book_staff add constraint book_staff_role_check
  check (role in ('teacher', 'co-teacher', 'marker', 'reviewer'));

-- Down Migration
update book_staff set role = 'marker' where role = 'reviewer';
alter table book_staff drop constraint book_staff_role_check;
alter table book_staff add constraint book_staff_role_check check (role in ('teacher', 'co-teacher', 'marker'));
