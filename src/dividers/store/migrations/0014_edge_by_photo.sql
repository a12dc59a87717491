-- What was measured of the edge on a photo: the places pointed at and what came out.
begin immediate;
alter table photos add column edge text check (edge is null or json_valid(edge));
pragma user_version = 14;
commit;
