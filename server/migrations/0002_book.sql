-- Up Migration
create table book (
  school text not null,
  id text not null,
  term text not null,
  title text not null check (title <> ''),
  shows_standing boolean not null default false,
  -- The last line of the book's journal: one sequence in commit order.
  seq integer not null default 0,
  rules_version integer not null default 0,
  created_at timestamptz not null default now(),
  primary key (school, id),
  foreign key (school, term) references term (school, id)
);

create table book_staff (
  school text not null,
  book text not null,
  person text not null,
  role text not null check (role in ('teacher', 'co-teacher', 'marker')),
  primary key (school, book, person),
  foreign key (school, book) references book (school, id),
  foreign key (school, person) references person (school, id)
);
create index book_staff_person on book_staff (school, person);

create table section (
  school text not null,
  book text not null,
  id text not null,
  title text not null check (title <> ''),
  position integer not null,
  primary key (school, book, id),
  foreign key (school, book) references book (school, id)
);

-- One enrolment per person and book; its id is the student id of the book document.
create table enrolment (
  school text not null,
  book text not null,
  id text not null,
  person text not null,
  section text,
  extra_time_hours numeric(9, 4) not null default 0 check (extra_time_hours >= 0),
  entered_at timestamptz not null default now(),
  left_at timestamptz,
  primary key (school, book, id),
  unique (school, book, person),
  foreign key (school, book) references book (school, id),
  foreign key (school, person) references person (school, id),
  foreign key (school, book, section) references section (school, book, id)
);
create index enrolment_person on enrolment (school, person);

-- Rules and groups only, as JSON text that the core has checked; assessments point at its category ids.
create table rules_version (
  school text not null,
  book text not null,
  version integer not null,
  rules text not null,
  made_at timestamptz not null default now(),
  made_by text not null,
  reason text not null default '',
  primary key (school, book, version),
  foreign key (school, book) references book (school, id)
);

create table assessment (
  school text not null,
  book text not null,
  id text not null,
  title text not null check (title <> ''),
  category text not null,
  position integer not null,
  points numeric(13, 4) not null check (points >= 0),
  due timestamptz,
  closes timestamptz,
  -- Students hand something in through the application; otherwise it is on paper or done in the room.
  takes_work boolean not null default false,
  shown boolean not null default true,
  -- Further keys of the contract's item (late, blank, extraCredit, attempts …) as JSON text.
  more text not null default '{}',
  version integer not null default 1,
  primary key (school, book, id),
  foreign key (school, book) references book (school, id)
);

-- What one student has on one item. One version covers the attempts too; no row is version 0.
create table entry (
  school text not null,
  book text not null,
  assessment text not null,
  enrolment text not null,
  version integer not null,
  state text check (state in ('excused', 'missing', 'awaiting')),
  due_at timestamptz,
  closes_at timestamptz,
  late_allowances integer check (late_allowances between 1 and 1000),
  set_points numeric(13, 4) check (set_points >= 0),
  protected boolean not null default false,
  primary key (school, book, assessment, enrolment),
  foreign key (school, book, assessment) references assessment (school, book, id),
  foreign key (school, book, enrolment) references enrolment (school, book, id)
);

create table attempt (
  school text not null,
  book text not null,
  assessment text not null,
  enrolment text not null,
  number integer not null check (number >= 1),
  score numeric(13, 4) check (score >= 0),
  mark text,
  received_at timestamptz,
  on_time boolean not null default false,
  late_units integer check (late_units >= 0),
  handed_in boolean not null default false,
  primary key (school, book, assessment, enrolment, number),
  foreign key (school, book, assessment, enrolment) references entry on delete cascade,
  check (score is null or mark is null)
);

-- Down Migration
drop table attempt; drop table entry; drop table assessment; drop table rules_version; drop table enrolment;
drop table section; drop table book_staff; drop table book;
