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
