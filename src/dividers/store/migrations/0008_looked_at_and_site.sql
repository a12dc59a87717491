-- What is wrong with a change that was not taken; whether bridging was looked at; when a patch was sealed; the time zone of the site.
begin immediate;
alter table findings add column bridge_looked integer not null default 0 check (bridge_looked in (0, 1));
alter table drafts add column faults text not null default '';
alter table patch_cells add column sealed_at text;
create table site (
    id integer primary key check (id = 1),
    zone text not null,
    set_at text not null
) strict;
pragma user_version = 8;
commit;
