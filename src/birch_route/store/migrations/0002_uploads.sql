-- Drawings brought in: kept as they came, read by the worker, with what was found in them.

create table upload (
    id bigint generated always as identity primary key,
    name text not null constraint upload_name_filled check (length(name) between 1 and 200),
    data bytea not null constraint upload_size check (octet_length(data) <= 24000000),
    unit text,
    join_mm double precision not null constraint upload_join_sane check (join_mm > 0 and join_mm <= 5),
    reading integer not null default 1,
    status text not null default 'waiting' constraint upload_status_known check (status in ('waiting', 'reading', 'done', 'failed', 'stopped')),
    progress real not null default 0,
    result json,
    made_by text not null,
    made_at timestamptz not null default now()
);
