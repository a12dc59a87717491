-- Who made a revision: a person's or a phone's name; empty for this machine's own browser.
begin immediate;

alter table revisions add column made_by text not null default '';

pragma user_version = 10;
commit;
