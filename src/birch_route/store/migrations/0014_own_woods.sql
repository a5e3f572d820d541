-- Woods, sheets and other materials of a shop's own; moisture of its boards. Both only grow.

create table material_record (
    id bigint generated always as identity primary key,
    material text not null constraint material_id_filled check (length(material) between 1 and 40),
    document json not null,
    removed boolean not null default false,
    made_by text not null,
    made_at timestamptz not null default now()
);
create index material_record_material on material_record (material, id desc);

alter table wood_record add column moisture_pct double precision
    constraint wood_record_moisture_sane check (moisture_pct > 0 and moisture_pct <= 60);
