-- Up Migration
-- What people set for themselves; who set nothing has no row.
create table person_settings (
  school text not null,
  person text not null,
  locale text not null,
  colour_scheme text not null check (colour_scheme in ('machine', 'light', 'dark')),
  density text not null check (density in ('close', 'roomy')),
  primary key (school, person),
  foreign key (school, person) references person (school, id) on delete cascade
);

-- Down Migration
drop table person_settings;
