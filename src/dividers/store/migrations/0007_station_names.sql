-- Stations are called by what is done there: Survey is Measure, Order of work is Schedule.
begin immediate;

update drafts set station = 'measure' where station = 'survey';
update drafts set station = 'schedule' where station = 'order';

pragma user_version = 7;
commit;
