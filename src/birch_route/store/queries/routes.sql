-- name: add_job -> one
-- Add a job.
insert into job (name, note) values (%(name)s, %(note)s) returning id;

-- name: name_job -> none
-- Give the job of a route the name and note its newest revision has.
update job set name = %(name)s, note = %(note)s
from route r where r.id = %(route)s and job.id = r.job and (job.name, job.note) is distinct from (%(name)s, %(note)s);

-- name: add_route -> one
-- Add a route at its first revision.
insert into route (job, latest) values (%(job)s, 1) returning id;

-- name: list_routes -> all
-- Jobs on the bench, or put away, newest change first, a page at a time. The page is found by its index before anything
-- is joined.
with page as (
    select r.id, r.job, r.latest, r.changed_at, r.away_since, r.away_by from route r
    where (%(away)s and r.away_since is not null) or (not %(away)s and r.away_since is null)
    order by r.changed_at desc, r.id desc limit %(most)s offset %(skip)s)
select p.id, j.name, j.note, p.latest, p.changed_at, p.away_since, p.away_by, v.author, v.piece_kind, v.wood, v.hash
from page p join job j on j.id = p.job join revision v on v.route = p.id and v.number = p.latest
order by p.changed_at desc, p.id desc;

-- name: count_routes -> one
-- How many jobs there are.
select count(*) as count from route;

-- name: count_listed -> one
-- How many jobs there are on the bench, or put away.
select count(*) as count from route where (away_since is not null) = %(away)s;

-- name: find_routes -> all
-- Jobs in whose name, note, wood or kind every one of some words stands.
select r.id, j.name, j.note, r.latest, r.changed_at, r.away_since, r.away_by, v.author, v.piece_kind, v.wood, v.hash
from route r join job j on j.id = r.job join revision v on v.route = r.id and v.number = r.latest
where (r.away_since is not null) = %(away)s
    and j.name || ' ' || j.note || ' ' || replace(v.wood, '_', ' ') || ' ' || v.piece_kind ilike all (%(words)s)
order by r.changed_at desc, r.id desc limit %(most)s offset %(skip)s;

-- name: count_found_routes -> one
-- How many jobs have every one of some words.
select count(*) as count
from route r join job j on j.id = r.job join revision v on v.route = r.id and v.number = r.latest
where (r.away_since is not null) = %(away)s
    and j.name || ' ' || j.note || ' ' || replace(v.wood, '_', ' ') || ' ' || v.piece_kind ilike all (%(words)s);

-- name: put_route_away -> maybe
-- Put a job away or take it out again; when it was put away first stays.
update route set away_since = case when %(away)s then coalesce(away_since, now()) end,
    away_by = case when %(away)s then coalesce(away_by, %(author)s) end
where id = %(route)s returning away_since;

-- name: runs_cut -> all
-- What counted runs of a route cut, oldest first: the operations of their revisions and what is told of each.
select run.outcome, run.ran, v.operations from counted_run run,
    lateral (
        select coalesce(array_agg(o->>'id'), '{}') as operations
        from revision r, json_array_elements(r.document->'operations') o
        where r.route = run.route and r.number = run.revision) v
where run.route = %(route)s order by run.id;

-- name: latest_revision -> maybe
-- The newest revision of a route.
select v.route, v.number, v.state, v.undoes, v.redo, v.document::text as document, v.hash, v.what, v.author, v.made_at, j.name as job
from route r join job j on j.id = r.job join revision v on v.route = r.id and v.number = r.latest where r.id = %(route)s;

-- name: lock_route -> maybe
-- Lock a route against other edits and give its newest revision's number.
select latest from route where id = %(route)s for update;

-- name: revision -> maybe
-- One revision of a route.
select route, number, state, undoes, redo, document::text as document, hash, what, author, made_at from revision
where route = %(route)s and number = %(number)s;

-- name: revision_origin -> maybe
-- What a revision undoes, if anything.
select undoes from revision where route = %(route)s and number = %(number)s;

-- name: revisions -> all
-- The history of a route, newest first.
select number, state, undoes, what, author, made_at, hash from revision where route = %(route)s order by number desc limit 500;

-- name: add_revision -> none
-- Keep a revision; revisions are never changed.
insert into revision (route, number, state, undoes, redo, document, hash, piece_kind, wood, edits, what, author)
values (%(route)s, %(number)s, %(state)s, %(undoes)s, %(redo)s, %(document)s, %(hash)s, %(piece_kind)s, %(wood)s, %(edits)s, %(what)s, %(author)s);

-- name: advance_route -> none
-- Make a revision the newest.
update route set latest = %(number)s, changed_at = now() where id = %(route)s;

-- name: document_by_hash -> maybe
-- The document of any revision with a hash.
select document::text as document from revision where hash = %(hash)s limit 1;

-- name: newest_hash_of_same_route -> maybe
-- The newest hash of a route that has a revision of this hash, to see whether a proof is still wanted.
select v.hash from revision v join route r on r.id = v.route and r.latest = v.number
where v.hash = %(hash)s limit 1;

-- name: newest_document_of_same_route -> maybe
-- The newest document of the route that had a document with this hash last.
select v.document::text as document from revision old join route r on r.id = old.route join revision v on v.route = r.id and v.number = r.latest
where old.hash = %(hash)s order by old.number desc limit 1;

-- name: tie_twin -> none
-- Tie a trial to the route it tries.
insert into twin (route, of_route) values (%(route)s, %(of_route)s);

-- name: twins_of -> all
-- The trials of a route, and a route itself where it is a trial, oldest first.
select t.route, t.of_route, j.name, v.number as revision, v.document::text as document,
  o.hash as of_hash, oj.name as of_name
from twin t
join route r on r.id = t.route join job j on j.id = r.job
join revision v on v.route = r.id and v.number = r.latest
join route ofr on ofr.id = t.of_route join job oj on oj.id = ofr.job
join revision o on o.route = ofr.id and o.number = ofr.latest
where t.of_route = %(route)s or t.route = %(route)s order by t.route;

-- name: tries_of -> all
-- Every run of the trials of a route, or of a trial, oldest first, with what its revision had changed.
select run.route, run.revision, run.outcome, run.note, run.made_by, run.made_at, v.what
from twin t join counted_run run on run.route = t.route
join revision v on v.route = run.route and v.number = run.revision
where t.of_route = %(route)s or t.route = %(route)s order by run.id;

-- name: necks_here -> all
-- The numbers of every neck on the bench that is made from numbers, by name.
select r.id as route, j.name as job, v.number, (v.document->'piece'->'neck')::text as neck
from route r join job j on j.id = r.job join revision v on v.route = r.id and v.number = r.latest
where r.away_since is null and v.piece_kind = 'neck' and v.document->'piece'->>'neck' is not null
order by j.name, r.id;

-- name: boards_here -> all
-- The numbers of every fretboard on the bench that is made from numbers, by name.
select r.id as route, j.name as job, (v.document->'piece'->'board')::text as board
from route r join job j on j.id = r.job join revision v on v.route = r.id and v.number = r.latest
where r.away_since is null and v.piece_kind = 'fretboard' and v.document->'piece'->>'board' is not null
order by j.name, r.id;
