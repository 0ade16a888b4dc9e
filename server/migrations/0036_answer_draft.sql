-- What a marker would answer stands in the thread for the staff, until a teacher answers.
alter table message drop constraint message_kind_check;
alter table message add constraint message_kind_check check (kind in ('question', 'answer', 'set-aside', 'draft'));
