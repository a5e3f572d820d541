-- Ways to clear a region with a bounded engagement: they take seconds to find and depend on nothing but what the key is a hash of.

create table clearing_plans (
    key text primary key,
    data bytea not null,
    made_at timestamptz not null default now()
);
create index clearing_plans_by_age on clearing_plans (made_at);
