-- Up Migration
-- Where each book stands, as desk and office show it, as it was last worked out: made anew by a job when the book has
-- changed or a date has passed, and by whoever asks where the job was not there yet. Nothing stands here alone.
create table book_summary (
  school text not null,
  book text not null,
  -- What the text's shape is called; another one is made anew.
  format integer not null,
  -- The state of the book that it was worked out from.
  stamp text not null,
  -- By the school's clock: it holds from the one until before the other; null: until the book changes.
  made_at timestamptz not null,
  valid_until timestamptz,
  body text not null,
  primary key (school, book),
  foreign key (school, book) references book (school, id)
);

-- Down Migration
drop table book_summary;
