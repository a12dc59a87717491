-- A revision's document may be kept packed; then its text is empty. Those kept plain stay as they are.
begin immediate;

alter table revisions add column packed blob;

pragma user_version = 11;
commit;
