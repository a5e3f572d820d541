-- Work offsets of the machines and what became of the jigs. Both only grow: a change is another row.

create table offset_record (
    id bigint generated always as identity primary key,
    machine text not null constraint offset_record_machine_filled check (length(machine) between 1 and 40),
    number int not null constraint offset_record_number_known check (number between 1 and 6),
    name text not null constraint offset_record_name_filled check (length(name) between 1 and 80),
    refers_to text not null default '',
    jig bigint references route (id),
    x_mm double precision constraint offset_record_x_sane check (abs(x_mm) <= 5000),
    y_mm double precision constraint offset_record_y_sane check (abs(y_mm) <= 5000),
    z_mm double precision constraint offset_record_z_sane check (abs(z_mm) <= 5000),
    checked boolean not null default false,
    made_by text not null,
    made_at timestamptz not null default now()
);
create index offset_record_newest on offset_record (machine, number, id desc);

create table jig_record (
    id bigint generated always as identity primary key,
    jig bigint not null references route (id),
    what text not null constraint jig_record_what_known check (what in ('used', 'checked', 'mended')),
    pieces int not null default 0 constraint jig_record_pieces_sane check (pieces between 0 and 1000),
    play_mm double precision constraint jig_record_play_sane check (play_mm >= 0 and play_mm <= 10),
    saved_min double precision constraint jig_record_saved_sane check (saved_min >= 0 and saved_min <= 10000),
    place text not null default '',
    note text not null default '',
    made_by text not null,
    made_at timestamptz not null default now()
);
create index jig_record_jig on jig_record (jig, id desc);
