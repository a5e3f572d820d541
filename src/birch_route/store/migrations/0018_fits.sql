-- How parts went into their finished pockets: where the next one starts. A slip is withdrawn by its row; nothing is
-- struck out.

create table fit (
    id bigint generated always as identity primary key,
    route bigint not null references route (id),
    revision int not null,
    feature text not null,
    part_kind text not null,
    wood text not null,
    machine text not null,
    bit text not null,
    drawn_mm double precision not null,
    part_mm double precision not null,
    gap_mm double precision not null,
    left_mm double precision not null,
    measured_mm double precision,
    went text not null check (went in ('tight', 'fits', 'loose')),
    note text not null default '',
    made_by text not null,
    made_at timestamptz not null default now(),
    withdrawn_by text,
    withdrawn_at timestamptz
);
create index fit_route on fit (route, id desc);
create index fit_kind on fit (part_kind, id desc) where withdrawn_by is null;
create index fit_cut_by on fit (machine, bit, id desc) where withdrawn_by is null and measured_mm is not null;
