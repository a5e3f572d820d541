-- name: ask_corners -> maybe
-- Ask for the corners of a document; gives nothing where they are there or on the way already.
insert into corners (hash, made_with) values (%(hash)s, %(made_with)s)
on conflict (hash) do update set made_with = excluded.made_with, attempt = corners.attempt + 1, status = 'waiting', done = 0, expected = 0, result = null, seen_at = now()
where corners.made_with <> excluded.made_with or corners.status in ('failed', 'stopped')
or (corners.status in ('waiting', 'working') and corners.seen_at < now() - interval '2 minutes') returning attempt;

-- name: corners_state -> maybe
-- How far the corners of a document are, and what they brought, as JSON text; stopped where no worker has said a word for two minutes.
select case when status in ('waiting', 'working') and seen_at < now() - interval '2 minutes' then 'stopped' else status end as status, done, expected, result::text as result from corners where hash = %(hash)s and made_with = %(made_with)s;

-- name: corners_progress -> maybe
-- Note how far they are; gives nothing where they were stopped or asked for anew.
update corners set status = 'working', seen_at = now(), done = %(done)s, expected = %(expected)s
where hash = %(hash)s and attempt = %(attempt)s and status in ('waiting', 'working') returning hash;

-- name: corners_done -> none
-- Keep what the corners brought, or why they failed.
update corners set status = %(status)s, result = %(result)s where hash = %(hash)s and attempt = %(attempt)s and status in ('waiting', 'working');

-- name: stop_corners -> none
-- Stop them; the worker notices at the next simulation.
update corners set status = 'stopped' where hash = %(hash)s and status in ('waiting', 'working');
