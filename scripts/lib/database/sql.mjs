// The statements with which the commands make databases. Names are the commands' own.
export const dropDatabase = (name) => `drop database if exists "${name}" with (force)`;
export const databaseNamed = (name) => `select 1 from pg_database where datname = '${name}'`;
export const createDatabase = (name, template) =>
  `create database "${name}"${template ? ` template "${template}" strategy file_copy` : ''}`;
export const schoolTable = `select to_regclass('public.school') is not null`;
export const anySchool = 'select exists (select from school)';
/** A made-up school's clock runs from this moment on; that of a real one cannot be set. */
export const setClock = (moment) =>
  `update school set clock_offset = '${moment}'::timestamptz - clock_timestamp() where demo`;
