-- Small jobs that measure a machine: what was given and read, on which machine as it then was, and what was kept of it.
-- It only grows; the newest row of a kind is where it stands.

create table measuring_record (
    id bigint generated always as identity primary key,
    machine text not null constraint measuring_machine_filled check (length(machine) between 1 and 40),
    kind text not null constraint measuring_kind_filled check (length(kind) between 1 and 40),
    machine_then json not null,
    given json not null,
    readings json not null,
    told json not null,
    kept boolean not null,
    made_by text not null,
    made_at timestamptz not null default now()
);
create index measuring_record_machine on measuring_record (machine, kind, id desc);
