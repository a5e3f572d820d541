-- name: shop_says -> maybe
-- The shop's name and unit as they are now.
select name, unit, made_by, made_at from shop_record order by id desc limit 1;

-- name: add_shop_record -> one
-- Say what the shop is called and which unit it works in.
insert into shop_record (name, unit, made_by) values (%(name)s, %(unit)s, %(made_by)s) returning id;

-- name: lock_machines -> none
-- Let one at a time add or change machines, until the transaction ends.
select pg_advisory_xact_lock(712012);

-- name: machines -> all
-- Every machine of the shop as it is now, in the order they came.
select * from (
    select distinct on (machine) machine, id as revision, document, what, removed, made_by, made_at,
        min(id) over (partition by machine) as first
    from machine_record order by machine, id desc) newest
where not newest.removed order by newest.first limit 200;

-- name: machine_now -> maybe
-- A machine as it is now, also one that was put away.
select machine, id as revision, document, what, removed, made_by, made_at from machine_record
where machine = %(machine)s order by id desc limit 1;

-- name: machine_history -> all
-- What was said of a machine, the newest first.
select id as revision, what, made_by, made_at from machine_record
where machine = %(machine)s order by id desc limit 100;

-- name: machine_then -> maybe
-- A machine as it was at one time.
select document from machine_record where machine = %(machine)s and id = %(revision)s;

-- name: add_machine_record -> one
-- Say what a machine is now; what it was before is kept.
insert into machine_record (machine, document, what, removed, made_by)
values (%(machine)s, %(document)s, %(what)s, %(removed)s, %(made_by)s) returning id;

-- name: routes_on_machine -> all
-- The jobs whose newest revision stands on a machine, with the figures they have of it; the last changed first.
select r.id, j.name, v.document->'machine' as machine from route r
join job j on j.id = r.job
join revision v on v.route = r.id and v.number = r.latest
where v.document->'machine'->>'id' = %(machine)s
order by r.changed_at desc, r.id desc limit 500;
