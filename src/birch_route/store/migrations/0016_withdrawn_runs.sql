-- A record of a run is taken back by another row: what it told of cuts, bits and machines counts no more. Rows that a
-- run brought name it; those of before this migration name none.

create table run_withdrawn (
    run bigint primary key references run (id),
    made_by text not null,
    made_at timestamptz not null default now()
);
alter table trial add column run bigint references run (id);
alter table bit_note add column run bigint references run (id);
alter table machine_note add column run bigint references run (id);
create index trial_run on trial (run) where run is not null;

create view counted_run as
select r.* from run r where not exists (select 1 from run_withdrawn w where w.run = r.id);

create view counted_trial as
select t.* from trial t
where t.withdraws is null and not exists (select 1 from trial w where w.withdraws = t.id)
    and not exists (select 1 from run_withdrawn w where w.run = t.run);
