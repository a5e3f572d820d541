-- name: add_tick -> one
-- Note that a bench step was done, or taken back.
insert into bench_tick (route, step, digest, done, note, made_by)
values (%(route)s, %(step)s, %(digest)s, %(done)s, %(note)s, %(made_by)s) returning id, made_at;

-- name: ticks_of -> all
-- The newest tick of every bench step of a route.
select distinct on (step) step, digest, done, note, made_by, made_at from bench_tick where route = %(route)s order by step, id desc;

-- name: add_wood_board -> one
-- Add a board to the stock.
insert into wood_board default values returning id;

-- name: lock_wood_board -> maybe
-- Lock a board against other changes.
select id from wood_board where id = %(board)s for update;

-- name: add_wood_record -> one
-- Say what a board is now; what it was before is kept.
insert into wood_record (board, name, wood, length_mm, width_mm, thickness_mm, weighed_kg, figure, note, state, route, made_by)
values (%(board)s, %(name)s, %(wood)s, %(length_mm)s, %(width_mm)s, %(thickness_mm)s, %(weighed_kg)s, %(figure)s, %(note)s, %(state)s, %(route)s, %(made_by)s)
returning board, name, wood, length_mm, width_mm, thickness_mm, weighed_kg, figure, note, state, route, made_by, made_at;

-- name: wood_stock -> all
-- Every board as it is now, the newest first.
select * from (
    select distinct on (board) board, name, wood, length_mm, width_mm, thickness_mm, weighed_kg, figure, note, state, route, made_by, made_at
    from wood_record order by board, id desc) newest
order by newest.board desc limit 500;

-- name: wood_history -> all
-- What was said of a board, the newest first.
select name, wood, length_mm, width_mm, thickness_mm, weighed_kg, figure, note, state, route, made_by, made_at from wood_record
where board = %(board)s order by id desc limit 200;
