-- name: add_tick -> one
-- Note that a bench step was done, or taken back.
insert into bench_tick (route, step, digest, done, note, made_by)
values (%(route)s, %(step)s, %(digest)s, %(done)s, %(note)s, %(made_by)s) returning id, made_at;

-- name: ticks_of -> all
-- The newest tick of every bench step of a route.
select distinct on (step) step, digest, done, note, made_by, made_at from bench_tick where route = %(route)s order by step, id desc;

-- name: add_wood_board -> one
-- Add a board to the stock.
insert into wood_board default values returning id;

-- name: lock_wood_board -> maybe
-- Lock a board against other changes.
select id from wood_board where id = %(board)s for update;

-- name: add_wood_record -> one
-- Say what a board is now; what it was before is kept.
insert into wood_record (board, name, wood, length_mm, width_mm, thickness_mm,
    weighed_kg, moisture_pct, figure, note, state, route, made_by)
values (%(board)s, %(name)s, %(wood)s, %(length_mm)s, %(width_mm)s, %(thickness_mm)s,
    %(weighed_kg)s, %(moisture_pct)s, %(figure)s, %(note)s, %(state)s, %(route)s, %(made_by)s)
returning board, name, wood, length_mm, width_mm, thickness_mm,
    weighed_kg, moisture_pct, figure, note, state, route, made_by, made_at;

-- name: wood_stock -> all
-- Every board as it is now, the newest first.
select * from (
    select distinct on (board) board, name, wood, length_mm, width_mm, thickness_mm,
    weighed_kg, moisture_pct, figure, note, state, route, made_by, made_at
    from wood_record order by board, id desc) newest
order by newest.board desc limit 500;

-- name: wood_history -> all
-- What was said of a board, the newest first.
select name, wood, length_mm, width_mm, thickness_mm,
    weighed_kg, moisture_pct, figure, note, state, route, made_by, made_at from wood_record
where board = %(board)s order by id desc limit 200;

-- name: add_offset_record -> one
-- Say what a work offset of a machine is now; what it was before is kept.
insert into offset_record (machine, number, name, refers_to, jig, x_mm, y_mm, z_mm, checked, made_by)
values (%(machine)s, %(number)s, %(name)s, %(refers_to)s, %(jig)s, %(x_mm)s, %(y_mm)s, %(z_mm)s, %(checked)s, %(made_by)s)
returning id;

-- name: offsets_of -> all
-- Every work offset of a machine as it is now, with when it was last checked since its place was last changed.
with newest as (
    select distinct on (number) * from offset_record where machine = %(machine)s order by number, id desc)
select n.number, n.name, n.refers_to, n.jig, n.x_mm, n.y_mm, n.z_mm, n.made_by, n.made_at,
    (select max(c.made_at) from offset_record c where c.machine = n.machine and c.number = n.number and c.checked
        and c.x_mm is not distinct from n.x_mm and c.y_mm is not distinct from n.y_mm and c.z_mm is not distinct from n.z_mm
        and c.jig is not distinct from n.jig) as checked_at,
    (select j.name from route r join job j on j.id = r.job where r.id = n.jig) as jig_name
from newest n order by n.number;

-- name: add_jig_record -> one
-- Note what a jig did or what was found on it.
insert into jig_record (jig, what, pieces, play_mm, saved_min, place, note, made_by)
values (%(jig)s, %(what)s, %(pieces)s, %(play_mm)s, %(saved_min)s, %(place)s, %(note)s, %(made_by)s) returning id, made_at;

-- name: jig_records -> all
-- What was noted of a jig, the newest first.
select what, pieces, play_mm, saved_min, place, note, made_by, made_at from jig_record where jig = %(jig)s order by id desc limit 500;

-- name: offsets_of_jig -> all
-- The work offsets that are kept for a jig.
select * from (select distinct on (machine, number) machine, number, name, jig from offset_record order by machine, number, id desc) newest
where newest.jig = %(jig)s;

-- name: minutes_of -> maybe
-- The minutes a route takes on the machine, by hand and at the bench, from the proof of its newest revision.
select (p.report::jsonb -> 'totals' ->> 'machine_min')::float + (p.report::jsonb -> 'totals' ->> 'hands_min')::float + (p.report::jsonb -> 'totals' ->> 'bench_min')::float as minutes
from route r join revision v on v.route = r.id and v.number = r.latest join proof p on p.hash = v.hash
where r.id = %(route)s and p.report::jsonb ? 'totals';

-- name: own_steps -> all
-- Steps at the bench that people added to the jobs worked on last, the newest of each name.
with lately as (
  select v.document, v.made_at from route r join revision v on v.route = r.id and v.number = r.latest
  order by v.made_at desc limit 200
)
select distinct on (lower(s.step->>'name')) s.step from lately
cross join lateral json_array_elements(lately.document->'bench_steps') as s(step)
where (s.step->>'own')::boolean
order by lower(s.step->>'name'), lately.made_at desc;
