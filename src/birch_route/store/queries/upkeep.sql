-- name: lock_upkeep -> none
-- One process at a time may migrate.
select pg_advisory_xact_lock(8417);

-- name: has_table -> one
-- Whether a table is there.
select to_regclass(%(name)s) is not null as there;

-- name: make_migration_table -> none
-- The list of migrations applied.
create table if not exists migration (number integer primary key, name text not null, at timestamptz not null default now());

-- name: migrations -> all
-- Migrations applied.
select number from migration order by number;

-- name: add_migration -> none
-- Note a migration as applied.
insert into migration (number, name) values (%(number)s, %(name)s);

-- name: ping -> one
-- Whether the database answers.
select 1 as one;
