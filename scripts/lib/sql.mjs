// The statements with which the commands make databases. Names are the commands' own.
export const dropDatabase = (name) => `drop database if exists "${name}" with (force)`;
export const databaseNamed = (name) => `select 1 from pg_database where datname = '${name}'`;
export const createDatabase = (name, template) =>
  `create database "${name}"${template ? ` template "${template}" strategy file_copy` : ''}`;
export const schoolTable = `select to_regclass('public.school') is not null`;
export const anySchool = 'select exists (select from school)';
