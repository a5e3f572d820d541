-- name: add_upload -> one
-- Keep a drawing as it came.
insert into upload (name, data, unit, join_mm, made_by) values (%(name)s, %(data)s, %(unit)s, %(join_mm)s, %(made_by)s) returning id, reading;

-- name: read_upload_again -> maybe
-- Ask for a drawing to be read again in another unit, joining distance or scale; what an earlier reading still finds is not kept.
update upload set unit = %(unit)s, join_mm = %(join_mm)s, scan = %(scan)s, reading = reading + 1, status = 'waiting', progress = 0, result = null
where id = %(id)s returning id, reading;

-- name: upload_state -> maybe
-- How far the reading of a drawing is, and what it found, as JSON text.
select id, name, unit, join_mm, reading, status, progress, result::text as result from upload where id = %(id)s;

-- name: upload_data -> maybe
-- A drawing as it came, if this reading is still wanted.
select name, data, unit, join_mm, scan from upload where id = %(id)s and reading = %(reading)s and status in ('waiting', 'reading');

-- name: upload_progress -> maybe
-- Note how far a reading is; gives nothing where it was stopped or asked for anew.
update upload set status = 'reading', progress = %(progress)s where id = %(id)s and reading = %(reading)s and status in ('waiting', 'reading') returning id;

-- name: upload_done -> none
-- Keep what a reading found, or why it failed.
update upload set status = %(status)s, progress = 1, result = %(result)s where id = %(id)s and reading = %(reading)s and status in ('waiting', 'reading');

-- name: upload_picture -> maybe
-- A scan as it came.
select name, data from upload where id = %(id)s;

-- name: stop_upload -> none
-- Stop the reading of a drawing.
update upload set status = 'stopped' where id = %(id)s and status in ('waiting', 'reading');
