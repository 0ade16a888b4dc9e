-- Up Migration
-- What students tick before they hand in: the school's words, and a book's own. '' nothing; null: as the school says.
alter table school add column statement text not null default '';
alter table book add column statement text;

-- Down Migration
alter table book drop column statement;
alter table school drop column statement;
