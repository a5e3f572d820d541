-- Being at the machine: a run of a release as events. Events only grow; one is kept once, however often a device
-- sends it.

create table attended (
    id bigint generated always as identity primary key,
    route bigint not null,
    revision integer not null,
    plan jsonb not null,
    made_by text not null,
    made_at timestamptz not null default now(),
    constraint attended_revision foreign key (route, revision) references revision (route, number)
);
create index attended_route on attended (route, id desc);

create table attended_event (
    id bigint generated always as identity primary key,
    attended bigint not null references attended (id),
    device text not null constraint attended_event_device_filled check (length(device) between 1 and 60),
    number integer not null constraint attended_event_number_counts check (number > 0),
    kind text not null constraint attended_event_kind_known check (kind in (
        'ticked', 'taken_back', 'started', 'stopped', 'went_on', 'note', 'reading', 'wrong', 'closed')),
    step text not null default '',
    note text not null default '',
    value_mm double precision,
    device_at timestamptz,
    made_by text not null,
    made_at timestamptz not null default now(),
    constraint attended_event_once unique (attended, device, number)
);
create index attended_event_of on attended_event (attended, id);
