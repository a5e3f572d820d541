-- A job that is done with is put away: it stands no more among those on the bench, and is found and taken out again.

alter table route add column away_since timestamptz;
alter table route add column away_by text;
create index route_on_bench on route (changed_at desc, id desc) where away_since is null;
create index route_away on route (changed_at desc, id desc) where away_since is not null;
