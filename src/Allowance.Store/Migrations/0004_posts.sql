-- Every post carries an id, whatever it does: a repeated one changes nothing, and is answered as the first was.
create table post (
  id text primary key,
  at text not null,
  -- What it made: the id of an entry, a sitting, a thing, a person; 0 where nothing is asked for again.
  result integer not null default 0
) without rowid;
insert into post (id, at, result) select id, strftime('%Y-%m-%dT%H:%M:%S', 'now'), sitting_id from taken_post;
drop table taken_post;
create index post_by_time on post (at);

-- Of a file that is being brought in: how many of its notes are in so far.
alter table entry add column brought_in integer;
