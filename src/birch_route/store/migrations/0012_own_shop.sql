-- A shop of one's own: its name and unit, its machines. Both only grow.

create table shop_record (
    id bigint generated always as identity primary key,
    name text not null constraint shop_record_name_filled check (length(name) between 1 and 80),
    unit text not null constraint shop_record_unit_known check (unit in ('mm', 'inch')),
    made_by text not null,
    made_at timestamptz not null default now()
);

create table machine_record (
    id bigint generated always as identity primary key,
    machine text not null constraint machine_record_id_filled check (length(machine) between 1 and 40),
    document json not null,
    what text not null,
    removed boolean not null default false,
    made_by text not null,
    made_at timestamptz not null default now()
);
create index machine_record_machine on machine_record (machine, id desc);

-- A shop of an earlier version has the machines its jobs stand on.
insert into machine_record (machine, document, what, made_by)
select distinct on (v.document->'machine'->>'id')
    v.document->'machine'->>'id', v.document->'machine', 'Taken from the jobs of an earlier version', 'Birch Route'
from route r join revision v on v.route = r.id and v.number = r.latest
order by v.document->'machine'->>'id', v.made_at desc;
