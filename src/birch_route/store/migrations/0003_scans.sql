-- A scan has two points of known distance: as parts of the picture's width and height, and mm.

alter table upload add column scan text;
