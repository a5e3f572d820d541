-- People, jobs, routes with immutable revisions, proofs by hash, releases, runs.

create table person (
    id bigint generated always as identity primary key,
    name text not null constraint person_name_unique unique,
    role text not null constraint person_role_known check (role in ('planner', 'operator', 'viewer')),
    created_at timestamptz not null default now()
);

create table sign_in_link (
    token_hash text primary key,
    person bigint not null references person (id),
    expires_at timestamptz not null,
    used_at timestamptz
);

create table session (
    token_hash text primary key,
    person bigint not null references person (id),
    created_at timestamptz not null default now()
);

create table job (
    id bigint generated always as identity primary key,
    name text not null constraint job_name_filled check (length(name) between 1 and 80),
    note text not null default '',
    created_at timestamptz not null default now()
);

create table route (
    id bigint generated always as identity primary key,
    job bigint not null references job (id),
    latest integer not null,
    changed_at timestamptz not null default now()
);
create index route_job on route (job);
create index route_changed on route (changed_at desc, id desc);

create table revision (
    route bigint not null references route (id),
    number integer not null,
    state integer not null,
    undoes integer,
    redo integer[] not null default '{}',
    document json not null,
    hash text not null,
    piece_kind text not null,
    wood text not null,
    edits jsonb not null default '[]',
    what text not null,
    author text not null,
    made_at timestamptz not null default now(),
    constraint revision_key primary key (route, number)
);
create index revision_hash on revision (hash);

create table proof (
    hash text primary key,
    made_with text not null,
    report json not null,
    seconds double precision not null,
    made_at timestamptz not null default now()
);

create table proof_view (
    hash text primary key references proof (hash) on delete cascade,
    data bytea not null
);

create table release (
    id bigint generated always as identity primary key,
    route bigint not null,
    revision integer not null,
    digest text not null,
    overrides jsonb not null,
    files json not null,
    made_by text not null,
    made_at timestamptz not null default now(),
    constraint release_revision foreign key (route, revision) references revision (route, number)
);

create table run (
    id bigint generated always as identity primary key,
    route bigint not null,
    revision integer not null,
    outcome text not null constraint run_outcome_known check (outcome in ('fine', 'chatter', 'burning', 'torn', 'broke', 'slow', 'stopped')),
    note text not null default '',
    minutes jsonb not null,
    made_by text not null,
    made_at timestamptz not null default now(),
    constraint run_revision foreign key (route, revision) references revision (route, number)
);
create index run_route on run (route);
