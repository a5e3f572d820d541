-- name: rack -> all
-- Every bit of the rack as it is now.
select distinct on (bit) bit, data, number, price, spares, note, state, made_by, made_at from rack_bit order by bit, id desc;

-- name: add_rack_bit -> one
-- Say what a bit of the rack is now.
insert into rack_bit (bit, data, number, price, spares, note, state, made_by)
values (%(bit)s, %(data)s, %(number)s, %(price)s, %(spares)s, %(note)s, %(state)s, %(made_by)s) returning id;

-- name: add_bit_note -> one
-- Note what a bit did or what was measured on it.
insert into bit_note (bit, what, wood, metres, slots, minutes, diameter_mm, shortened_mm, note, run, made_by)
values (
    %(bit)s, %(what)s, %(wood)s, %(metres)s, %(slots)s, %(minutes)s, %(diameter_mm)s, %(shortened_mm)s, %(note)s,
    %(run)s, %(made_by)s) returning id;

-- name: bit_notes -> all
-- What was noted of the bits and counts, the newest first.
select n.id, n.bit, n.what, n.wood, n.metres, n.slots, n.minutes, n.diameter_mm, n.shortened_mm, n.note, n.made_by,
    n.made_at
from bit_note n where not exists (select 1 from run_withdrawn w where w.run = n.run) order by n.id desc limit 5000;

-- name: add_trial -> one
-- Keep a cut and what became of it.
insert into trial (machine, bit, wood, data, origin, withdraws, run, made_by)
values (%(machine)s, %(bit)s, %(wood)s, %(data)s, %(origin)s, %(withdraws)s, %(run)s, %(made_by)s)
returning id, made_at;

-- name: trials -> all
-- Every cut that was not withdrawn, the newest first; what it was is asked for by number.
select t.id, t.made_by, t.made_at from counted_trial t order by t.id desc limit 5000;

-- name: trials_for -> all
-- The cuts that count of one machine, bit and wood, and the newest of other ground, the newest first.
select t.id, t.made_by, t.made_at from counted_trial t
where (t.id in (select g.id from trial g
            where g.machine = %(machine)s and g.bit = %(bit)s and g.wood = %(wood)s order by g.id desc limit 1000)
        or t.id in (select n.id from counted_trial n
            where (n.machine, n.bit, n.wood) <> (%(machine)s, %(bit)s, %(wood)s) order by n.id desc limit %(others)s))
order by t.id desc;

-- name: trial_data -> all
-- What cuts were, by number.
select t.id, t.data from trial t where t.id = any(%(ids)s);

-- name: trial -> maybe
-- One cut that counts.
select t.id, t.machine, t.bit, t.wood, t.data, t.origin from trial t
where t.id = %(id)s and exists (select 1 from counted_trial c where c.id = t.id) for update;

-- name: trials_of_machine -> all
-- The shop's own cuts that count of one machine with these bits, the newest first.
select t.id from counted_trial t
where t.machine = %(machine)s and t.bit = any(%(bits)s) and t.origin = 'own'
order by t.id desc limit 2000;

-- name: add_machine_note -> one
-- Note what a machine ran, that brushes were changed, or how many spare sets there are.
insert into machine_note (machine, what, minutes, weighed_min, spares, note, run, made_by)
values (%(machine)s, %(what)s, %(minutes)s, %(weighed_min)s, %(spares)s, %(note)s, %(run)s, %(made_by)s) returning id;

-- name: machine_notes -> all
-- What was noted of a machine and counts, the newest first.
select n.id, n.what, n.minutes, n.weighed_min, n.spares, n.note, n.made_by, n.made_at from machine_note n
where n.machine = %(machine)s and not exists (select 1 from run_withdrawn w where w.run = n.run)
order by n.id desc limit 5000;

-- name: metres_to_come -> all
-- What the newest revisions of jobs that were not run yet cut with each bit in each wood, the oldest job first.
select r.id as route, j.name as job, o->>'bit' as bit, o->>'species' as wood, sum((o->>'cut_length_mm')::double precision) / 1000 as metres
from (
    select n.* from route n where not exists (select 1 from counted_run c where c.route = n.id)
    order by n.id desc limit %(jobs)s) r
    join job j on j.id = r.job join revision v on v.route = r.id and v.number = r.latest join proof p on p.hash = v.hash and p.made_with = %(made_with)s,
    lateral json_array_elements(p.report->'operations') o
group by r.id, j.name, o->>'bit', o->>'species' order by r.id limit 5000;
