-- name: look -> maybe
-- A closer look at a proof, if it was made by this program.
select data from looks where hash = %(hash)s and what = %(what)s and made_with = %(made_with)s;

-- name: keep_look -> none
-- Keep a closer look.
insert into looks (hash, what, made_with, data) values (%(hash)s, %(what)s, %(made_with)s, %(data)s)
on conflict (hash, what) do update set made_with = excluded.made_with, data = excluded.data, made_at = now();

-- name: drop_old_looks -> none
-- Keep the newest; those dropped are made again when asked for.
delete from looks where (hash, what) in (select hash, what from looks order by made_at desc offset %(keep)s);
