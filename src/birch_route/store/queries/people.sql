-- name: add_person -> one
-- Add a person, or give back the one of that name.
insert into person (name, role) values (%(name)s, %(role)s)
on conflict on constraint person_name_unique do update set role = excluded.role
returning id, name, role;

-- name: add_link -> none
-- Keep the hash of a one-time sign-in link.
insert into sign_in_link (token_hash, person, expires_at) values (%(token_hash)s, %(person)s, now() + interval '12 hours');

-- name: use_link -> maybe
-- Use a sign-in link once; gives the person it is for.
update sign_in_link set used_at = now()
where token_hash = %(token_hash)s and used_at is null and expires_at > now()
returning person;

-- name: add_session -> none
-- Keep the hash of a session's token.
insert into session (token_hash, person) values (%(token_hash)s, %(person)s);

-- name: session_person -> maybe
-- The person a session belongs to; sessions last 30 days.
select p.id, p.name, p.role from session s join person p on p.id = s.person
where s.token_hash = %(token_hash)s and s.created_at > now() - interval '30 days';

-- name: end_session -> none
-- End a session.
delete from session where token_hash = %(token_hash)s;

-- name: people -> all
-- The people of the shop, with how many sessions they have and when the newest began.
select p.id, p.name, p.role, count(s.token_hash)::int as sessions, max(s.created_at) as seen_at
from person p left join session s on s.person = p.id and s.created_at > now() - interval '30 days'
group by p.id order by p.id limit 200;

-- name: lock_people -> none
-- Let one at a time change who is here.
select pg_advisory_xact_lock(712013);

-- name: person_named -> maybe
-- The person of a name.
select id, name, role from person where name = %(name)s;

-- name: person_numbered -> maybe
-- The person of a number.
select id, name, role from person where id = %(person)s;

-- name: change_person -> none
-- Give a person another name or role.
update person set name = %(name)s, role = %(role)s where id = %(person)s;

-- name: end_sessions_of -> none
-- End every session of a person.
delete from session where person = %(person)s;

-- name: end_links_of -> none
-- End the links a person did not use.
delete from sign_in_link where person = %(person)s and used_at is null;
