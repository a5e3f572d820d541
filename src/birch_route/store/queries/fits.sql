-- name: add_fit -> one
-- Keep how a part went in.
insert into fit (route, revision, feature, part_kind, wood, machine, bit, drawn_mm, part_mm, gap_mm, left_mm,
    measured_mm, went, note, made_by)
values (%(route)s, %(revision)s, %(feature)s, %(part_kind)s, %(wood)s, %(machine)s, %(bit)s, %(drawn_mm)s, %(part_mm)s,
    %(gap_mm)s, %(left_mm)s, %(measured_mm)s, %(went)s, %(note)s, %(made_by)s) returning id;

-- name: fits_of_route -> all
-- The fits of a job, newest first, those withdrawn too.
select id, feature, revision, wood, machine, bit, drawn_mm, part_mm, gap_mm, left_mm, measured_mm, went, note, made_by,
    made_at, coalesce(withdrawn_by, '') as withdrawn
from fit where route = %(route)s order by id desc limit 200;

-- name: fits_that_count -> all
-- The newest fits of some kinds of part in the shop, and of what one machine cut with some bits, newest first.
select part_kind, machine, bit, drawn_mm, part_mm, gap_mm, left_mm, measured_mm, went
from fit where withdrawn_by is null
    and (part_kind = any(%(kinds)s) or (machine = %(machine)s and bit = any(%(bits)s)))
order by id desc limit 400;

-- name: withdraw_fit -> maybe
-- Take one back, once.
update fit set withdrawn_by = %(made_by)s, withdrawn_at = now()
where id = %(fit)s and route = %(route)s and withdrawn_by is null returning id;

-- name: every_fit -> all
-- All of them.
select * from fit order by id;
