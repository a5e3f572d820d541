-- name: add_attended -> one
-- Begin a run at the machine.
insert into attended (route, revision, plan, made_by) values (%(route)s, %(revision)s, %(plan)s, %(made_by)s)
returning id;

-- name: attended -> maybe
-- A run at the machine, and the newest revision of its job.
select a.id, a.route, a.revision, a.plan, a.made_by, a.made_at,
    (select max(v.number) from revision v where v.route = a.route) as newest
from attended a where a.id = %(attended)s;

-- name: attended_of -> all
-- The runs at the machine of a route, the newest first.
select a.id, a.revision, a.made_by, a.made_at,
    (select e.made_at from attended_event e where e.attended = a.id and e.kind = 'closed' limit 1) as closed_at
from attended a where a.route = %(route)s order by a.id desc limit 50;

-- name: lock_attended -> maybe
-- Lock a run at the machine against other events until this transaction ends.
select id from attended where id = %(attended)s for update;

-- name: add_attended_event -> maybe
-- Keep one event; nothing where this device has sent that number before.
insert into attended_event (attended, device, number, kind, step, note, value_mm, device_at, made_by)
values (%(attended)s, %(device)s, %(number)s, %(kind)s, %(step)s, %(note)s, %(value_mm)s, %(device_at)s, %(made_by)s)
on conflict (attended, device, number) do nothing returning id;

-- name: attended_events -> all
-- Every event of a run at the machine, in the server's order.
select id, device, number, kind, step, note, value_mm, device_at, made_by, made_at
from attended_event where attended = %(attended)s order by id;

-- name: every_attended_event -> all
-- Every event of every run at the machine.
select a.route, a.revision, e.attended, e.device, e.number, e.kind, e.step, e.note, e.value_mm,
    e.device_at, e.made_by, e.made_at
from attended_event e join attended a on a.id = e.attended order by e.id;
