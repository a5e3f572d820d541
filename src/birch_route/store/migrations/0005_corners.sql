-- The proof at the corners of the tolerance, made on demand. Asked anew, the attempt counts up and an earlier one keeps nothing.

create table corners (
    hash text primary key,
    made_with text not null,
    attempt integer not null default 1,
    status text not null default 'waiting' constraint corners_status_known check (status in ('waiting', 'working', 'done', 'failed', 'stopped')),
    done integer not null default 0,
    expected integer not null default 0,
    result json,
    seen_at timestamptz not null default now()  -- when a worker last said how far it is
);
