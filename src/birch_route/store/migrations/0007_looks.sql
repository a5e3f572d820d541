-- Closer looks at a proof, made when somebody asks and made again at any time: one operation from inside, the result against the target.

create table looks (
    hash text not null,
    what text not null,
    made_with text not null,
    data bytea not null,
    made_at timestamptz not null default now(),
    primary key (hash, what)
);
create index looks_by_age on looks (made_at);
