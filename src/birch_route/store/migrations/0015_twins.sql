-- Which routes try which: a trial is a job of its own, tied to the one it tries.

create table twin (
    route bigint primary key references route (id),
    of_route bigint not null references route (id),
    constraint twin_of_another check (route <> of_route)
);
create index twin_of_route on twin (of_route, route);
