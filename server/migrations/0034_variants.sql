-- Who has a variant of the rules (contract, 5.3): a student, or a section for its members without their own.
alter table enrolment add column variant text check (variant <> '');
alter table section add column variant text check (variant <> '');

-- Which calculation worked the book out last: what an earlier one gave another figure is told once (core/calculation/repairs).
alter table book add column calculation integer not null default 1;
