-- name: clearing_plan -> maybe
-- Return a way to clear that was found before.
select data from clearing_plans where key = %(key)s;

-- name: keep_clearing_plan -> none
-- Keep a way to clear; a second finder of the same changes nothing.
insert into clearing_plans (key, data) values (%(key)s, %(data)s) on conflict (key) do nothing;

-- name: drop_old_clearing_plans -> none
-- Keep the newest; those dropped are found again when asked for.
delete from clearing_plans where key in (select key from clearing_plans order by made_at desc offset %(keep)s);
