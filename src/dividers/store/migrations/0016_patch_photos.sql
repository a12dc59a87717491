-- A photo of a field of a test patch, on which its edge is measured.
begin immediate;
alter table patch_cells add column photo_id integer references photos (id) on delete set null;
pragma user_version = 16;
commit;
