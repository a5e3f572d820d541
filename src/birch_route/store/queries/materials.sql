-- name: lock_materials -> none
-- Let one at a time add or change materials, until the transaction ends.
select pg_advisory_xact_lock(712013);

-- name: materials -> all
-- Every material of the shop's own as it is now, in the order they came.
select * from (
    select distinct on (material) material, id as revision, document, removed, made_by, made_at,
        min(id) over (partition by material) as first
    from material_record order by material, id desc) newest
where not newest.removed order by newest.first limit 300;

-- name: material_now -> maybe
-- A material as it is now, also one that was put away.
select material, id as revision, document, removed, made_by, made_at from material_record
where material = %(material)s order by id desc limit 1;

-- name: add_material_record -> one
-- Say what a material is now; what it was before is kept.
insert into material_record (material, document, removed, made_by)
values (%(material)s, %(document)s, %(removed)s, %(made_by)s) returning id;

-- name: weighed_boards -> all
-- Every board that was weighed, as it is now.
select * from (
    select distinct on (board) board, wood, length_mm, width_mm, thickness_mm, weighed_kg, moisture_pct
    from wood_record order by board, id desc) newest
where newest.weighed_kg is not null order by newest.board limit 2000;

-- name: good_cuts_by_material -> all
-- How many cuts of the shop's own went well in each material.
select t.wood, count(*) as count from counted_trial t
where t.origin = 'own' and t.data->>'outcome' = 'fine'
group by t.wood limit 500;
