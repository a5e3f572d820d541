-- name: measuring_now -> maybe
-- Where a small job of a machine stands.
select id, machine_then, given, readings, told, kept, made_by, made_at from measuring_record
where machine = %(machine)s and kind = %(kind)s order by id desc limit 1;

-- name: measuring_all -> all
-- Where each small job of a machine stands, and what was last kept of it.
select distinct on (kind, kept) kind, kept, readings, told, made_by, made_at, id from measuring_record
where machine = %(machine)s order by kind, kept, id desc limit 200;

-- name: measuring_kept -> all
-- What was kept of a small job, the newest first.
select id, told, made_by, made_at from measuring_record
where machine = %(machine)s and kind = %(kind)s and kept order by id desc limit 20;

-- name: add_measuring -> one
-- Note where a small job stands, or that what it tells was kept.
insert into measuring_record (machine, kind, machine_then, given, readings, told, kept, made_by)
values (%(machine)s, %(kind)s, %(machine_then)s, %(given)s, %(readings)s, %(told)s, %(kept)s, %(made_by)s)
returning id;
