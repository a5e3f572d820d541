-- Bits of the shop as they hang there, what they did and measured, and cuts with what became of them. All only grow: a change is another row, the newest counts.

create table rack_bit (
    id bigint generated always as identity primary key,
    bit text not null constraint rack_bit_id_formed check (bit ~ '^[a-z0-9_]{1,40}$'),
    data jsonb not null,
    number text not null default '',
    price double precision constraint rack_bit_price_sane check (price >= 0 and price <= 10000),
    spares int not null default 0 constraint rack_bit_spares_sane check (spares between 0 and 100),
    note text not null default '',
    state text not null default 'on_hand' constraint rack_bit_state_known check (state in ('on_hand', 'retired')),
    made_by text not null,
    made_at timestamptz not null default now()
);
create index rack_bit_newest on rack_bit (bit, id desc);

create table bit_note (
    id bigint generated always as identity primary key,
    bit text not null,
    what text not null constraint bit_note_what_known check (what in ('used', 'measured', 'new')),
    wood text not null default '',
    metres double precision not null default 0 constraint bit_note_metres_sane check (metres >= 0 and metres <= 100000),
    slots int not null default 0 constraint bit_note_slots_sane check (slots between 0 and 100000),
    minutes double precision not null default 0 constraint bit_note_minutes_sane check (minutes >= 0 and minutes <= 100000),
    diameter_mm double precision constraint bit_note_diameter_sane check (diameter_mm > 0 and diameter_mm <= 200),
    shortened_mm double precision constraint bit_note_shortened_sane check (shortened_mm >= 0 and shortened_mm <= 50),
    note text not null default '',
    made_by text not null,
    made_at timestamptz not null default now()
);
create index bit_note_bit on bit_note (bit, id desc);

create table trial (
    id bigint generated always as identity primary key,
    machine text not null,
    bit text not null,
    wood text not null,
    data jsonb not null,
    origin text not null constraint trial_origin_known check (origin in ('own', 'told', 'computed')),
    withdraws bigint references trial (id),
    made_by text not null,
    made_at timestamptz not null default now(),
    constraint trial_withdrawn_once unique (withdraws)
);
create index trial_ground on trial (machine, bit, wood, id desc);
