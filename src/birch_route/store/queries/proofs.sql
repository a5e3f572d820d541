-- name: proof -> maybe
-- The report of a proof, as JSON text.
select report::text as report, seconds, made_at from proof where hash = %(hash)s and made_with = %(made_with)s;

-- name: proof_operations -> maybe
-- The operations of a proof's report; none where the proof could not be made.
select report->'operations' as operations from proof where hash = %(hash)s and made_with = %(made_with)s and report->'operations' is not null;

-- name: proof_waits -> one
-- How a proof that is not there waits: whether an earlier version of the program made it, whether it is queued or at
-- work, and how many others come before it.
with mine as (
  select id, priority, status from procrastinate_jobs
  where task_name = 'birch:prove' and args->>'digest' = %(hash)s and status in ('todo', 'doing')
  order by status = 'doing' desc, priority desc, id limit 1
)
select
  exists (select 1 from proof where hash = %(hash)s and made_with <> %(made_with)s) as renewed,
  exists (select 1 from mine) as queued,
  (select count(*)::int from procrastinate_jobs o, mine
   where mine.status = 'todo' and o.queue_name = 'live' and o.id <> mine.id
   and (o.status = 'doing' or (o.status = 'todo' and (o.priority, -o.id) > (mine.priority, -mine.id)))) as ahead;

-- name: proof_stops -> maybe
-- How many findings of a proof stop it; one that could not be made is stopped.
select case when report->'findings' is null then 1 else (
    select count(*) from json_array_elements(report->'findings') f where f->>'severity' = 'stop') end::int as stops
from proof where hash = %(hash)s and made_with = %(made_with)s;

-- name: has_proof -> one
-- Whether a proof is there.
select exists (select 1 from proof where hash = %(hash)s and made_with = %(made_with)s) as there;

-- name: add_proof -> none
-- Keep a proof; the same hash is kept once, and made anew by a newer program.
insert into proof (hash, made_with, report, seconds) values (%(hash)s, %(made_with)s, %(report)s, %(seconds)s)
on conflict (hash) do update set made_with = excluded.made_with, report = excluded.report, seconds = excluded.seconds, made_at = now();

-- name: add_proof_view -> none
-- Keep the wood of a proof as the screen draws it.
insert into proof_view (hash, data) values (%(hash)s, %(data)s)
on conflict (hash) do update set data = excluded.data;

-- name: proof_view -> maybe
-- The wood of a proof as the screen draws it.
select data from proof_view where hash = %(hash)s;

-- name: tell -> one
-- Tell every listener, once this is committed.
select pg_notify('birch', %(message)s);

-- name: add_release -> one
-- Keep what was released to be run: the files as they were checked.
insert into release (route, revision, digest, overrides, files, made_by)
values (%(route)s, %(revision)s, %(digest)s, %(overrides)s, %(files)s, %(made_by)s) returning id, made_at;

-- name: release_of -> maybe
-- The newest release of a revision.
select id, digest, overrides, files, made_by, made_at from release
where route = %(route)s and revision = %(revision)s order by id desc limit 1;

-- name: add_run -> one
-- Keep the record of a run.
insert into run (route, revision, outcome, note, minutes, ran, made_by)
values (%(route)s, %(revision)s, %(outcome)s, %(note)s, %(minutes)s, %(ran)s, %(made_by)s) returning id, made_at;

-- name: runs_of -> all
-- The records of a route, newest first, each with who withdrew it.
select r.id, r.revision, r.outcome, r.note, r.minutes, r.ran, r.made_by, r.made_at, coalesce(w.made_by, '') as withdrawn
from run r left join run_withdrawn w on w.run = r.id where r.route = %(route)s order by r.id desc limit 200;

-- name: withdraw_run -> maybe
-- Take the record of a run back, once.
insert into run_withdrawn (run, made_by)
select r.id, %(made_by)s from run r where r.id = %(run)s and r.route = %(route)s
on conflict do nothing returning run;
