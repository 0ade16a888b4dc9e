-- Up Migration
-- Whether a set of changes is put back: some set that undoes it stands, however often that one was itself put back and
-- made again.
create function batch_undone(of_school text, of_book text, of_batch text) returns boolean
language plpgsql stable as $$
begin
  return exists (
    select 1 from batch u
    where u.school = of_school and u.book = of_book and u.undoes = of_batch
      and not batch_undone(of_school, of_book, u.id));
end $$;
