-- Up Migration
-- The school, its people and how they sign in. Every key begins with the school.
create table school (
  id text primary key,
  title text not null check (title <> ''),
  time_zone text not null,
  -- A demo school's clock stands still; null: the real one.
  fixed_now timestamptz,
  created_at timestamptz not null default now()
);

create table person (
  school text not null references school,
  id text not null,
  login text not null check (login = lower(login) and login <> ''),
  family text not null check (family <> ''),
  given text not null default '',
  -- The school's own number for a student; empty for staff.
  number text not null default '',
  mail text not null default '',
  role text not null check (role in ('administrator', 'staff', 'student')),
  password_hash text,
  active boolean not null default true,
  created_at timestamptz not null default now(),
  primary key (school, id),
  unique (login)
);
create unique index person_number on person (school, number) where number <> '';

create table session (
  sid text primary key,
  sess json not null,
  expire timestamptz not null
);
create index session_expire on session (expire);

-- Failed sign-ins by account and by address, in the form that the throttling package keeps.
create table sign_in_failure (
  key varchar(255) primary key,
  points integer not null default 0,
  expire bigint
);

create table term (
  school text not null references school,
  id text not null,
  title text not null check (title <> ''),
  starts date not null,
  ends date not null check (ends >= starts),
  primary key (school, id)
);

-- Down Migration
drop table term; drop table sign_in_failure; drop table session; drop table person; drop table school;
