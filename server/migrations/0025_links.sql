-- Up Migration
-- A link to choose a password, by mail: after its time it leads nowhere and is not sent any more.
alter table mail drop constraint mail_kind_check;
alter table mail add constraint mail_kind_check check (kind in ('told', 'letter', 'receipt', 'gathered', 'link'));
alter table mail add column void_at timestamptz;
-- Asked for by its own person, who forgot the password; it takes no place of what somebody else made for them.
alter table invitation add column forgotten boolean not null default false;
alter table invitation add column made_at timestamptz not null default now();

-- Down Migration
alter table invitation drop column made_at;
alter table invitation drop column forgotten;
delete from mail where kind = 'link';
alter table mail drop column void_at;
alter table mail drop constraint mail_kind_check;
alter table mail add constraint mail_kind_check check (kind in ('told', 'letter', 'receipt', 'gathered'));
