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

-- name: table_columns -> all
-- Every column of the product's tables that holds data of its own, in order.
select c.table_name as name, c.column_name from information_schema.columns c
join information_schema.tables t on t.table_schema = c.table_schema and t.table_name = c.table_name
where c.table_schema = 'public' and t.table_type = 'BASE TABLE' and c.is_generated = 'NEVER'
order by c.table_name, c.ordinal_position;

-- name: table_references -> all
-- Which table refers to which.
select distinct f.relname as name, r.relname as refers_to from pg_constraint c
join pg_class f on f.oid = c.conrelid join pg_class r on r.oid = c.confrelid
join pg_namespace n on n.oid = f.relnamespace
where c.contype = 'f' and n.nspname = 'public';

-- name: table_keys -> all
-- The columns of a table's primary key, in order.
select a.attname as column_name from pg_index i
join pg_class t on t.oid = i.indrelid
join pg_namespace n on n.oid = t.relnamespace
join lateral unnest(i.indkey) with ordinality as k (number, place) on true
join pg_attribute a on a.attrelid = t.oid and a.attnum = k.number
where i.indisprimary and n.nspname = 'public' and t.relname = %(name)s order by k.place;

-- name: table_counters -> all
-- The counters behind the columns that number themselves.
select c.table_name as name, c.column_name, pg_get_serial_sequence(quote_ident(c.table_name), c.column_name) as counter
from information_schema.columns c
where c.table_schema = 'public' and c.is_identity = 'YES' and c.table_name not like 'procrastinate%%';

-- name: every_route -> all
-- Every job as it is now, with the newest release of that revision.
select r.id, j.name, v.document, (
    select l.files from release l where l.route = r.id and l.revision = v.number order by l.id desc limit 1) as files
from route r join job j on j.id = r.job join revision v on v.route = r.id and v.number = r.latest order by r.id;

-- name: every_measuring -> all
-- Every small job that was kept, with its readings.
select id, machine, kind, given, readings, told, made_by, made_at from measuring_record where kept order by id;

-- name: every_run -> all
-- Every run that was recorded.
select * from run order by id;

-- name: every_trial -> all
-- Every cut with what became of it.
select * from trial order by id;

-- name: every_bit_note -> all
-- What was noted of bits.
select * from bit_note order by id;

-- name: every_machine_note -> all
-- What was noted of machines.
select * from machine_note order by id;

-- name: try_take_up -> one
-- Whether this worker is the one that takes up what others left, until the transaction ends.
select pg_try_advisory_xact_lock(841701, hashtext(%(queue)s)) as mine;

-- name: workers_alive -> one
-- How many workers have shown that they live within the last seconds.
select count(*)::int as count from procrastinate_workers
where last_heartbeat > now() - make_interval(secs => %(seconds)s);
