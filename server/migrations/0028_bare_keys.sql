-- Up Migration
-- Whether single letters and digits do something in the marking room.
alter table person_settings add column bare_keys boolean not null default true;

-- Down Migration
alter table person_settings drop column bare_keys;
