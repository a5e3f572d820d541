-- Bench steps ticked, and the wood stock of the shop. Both only grow: a change is another row.

create table bench_tick (
    id bigint generated always as identity primary key,
    route bigint not null references route (id),
    step text not null constraint bench_tick_step_filled check (length(step) between 1 and 40),
    digest text not null,
    done boolean not null,
    note text not null default '',
    made_by text not null,
    made_at timestamptz not null default now()
);
create index bench_tick_route on bench_tick (route, step, id desc);

create table wood_board (
    id bigint generated always as identity primary key,
    made_at timestamptz not null default now()
);

create table wood_record (
    id bigint generated always as identity primary key,
    board bigint not null references wood_board (id),
    name text not null constraint wood_record_name_filled check (length(name) between 1 and 80),
    wood text not null,
    length_mm double precision not null constraint wood_record_length_sane check (length_mm > 5 and length_mm <= 6000),
    width_mm double precision not null constraint wood_record_width_sane check (width_mm > 5 and width_mm <= 1500),
    thickness_mm double precision not null constraint wood_record_thickness_sane check (thickness_mm > 0.3 and thickness_mm <= 200),
    weighed_kg double precision constraint wood_record_weight_sane check (weighed_kg > 0 and weighed_kg <= 500),
    figure text not null default '',
    note text not null default '',
    state text not null default 'on_hand' constraint wood_record_state_known check (state in ('on_hand', 'in_a_job', 'used')),
    route bigint references route (id),
    made_by text not null,
    made_at timestamptz not null default now()
);
create index wood_record_board on wood_record (board, id desc);
