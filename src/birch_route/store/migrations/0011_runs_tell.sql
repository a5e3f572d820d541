-- What a run tells of its operations, and what machines wear: both only grow.

alter table run add column ran jsonb not null default '{}';

create table machine_note (
    id bigint generated always as identity primary key,
    machine text not null,
    what text not null constraint machine_note_what_known check (what in ('ran', 'brushes', 'spares')),
    minutes double precision not null default 0 constraint machine_note_minutes_sane check (minutes >= 0 and minutes <= 1000000),
    weighed_min double precision not null default 0 constraint machine_note_weighed_sane check (weighed_min >= 0 and weighed_min <= 1000000),
    spares int constraint machine_note_spares_sane check (spares between 0 and 100),
    note text not null default '',
    made_by text not null,
    made_at timestamptz not null default now()
);
create index machine_note_machine on machine_note (machine, id desc);
