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

-- What counts is found without reading the notes themselves.
drop index observation_by_player;
create index observation_by_player on observation (player_id, day, id, void, replaced_by);
create index observation_by_player_and_ask on observation (player_id, ask, outcome, right, day, void, replaced_by);
create index observation_glimpse on observation (player_id, day, id) where source = 'glimpse';

-- How many notes of a child count, and the sum of their ids: by it an estimate that was kept is known to hold still.
alter table log_state add column notes integer not null default 0;
alter table log_state add column sum integer not null default 0;
update log_state set
  notes = (select count(*) from observation o where o.player_id = log_state.player_id and o.void = 0 and o.replaced_by is null),
  sum = (select coalesce(sum(o.id), 0) from observation o where o.player_id = log_state.player_id and o.void = 0 and o.replaced_by is null);

-- How often each ask was noted of a child, and with which outcome; −1 where nobody watched how.
create table met (
  player_id integer not null references player (id) on delete cascade,
  ask text not null,
  outcome integer not null,
  right integer not null,
  times integer not null,
  primary key (player_id, ask, outcome, right)
) without rowid;
insert into met (player_id, ask, outcome, right, times)
  select player_id, ask, coalesce(outcome, -1), right, count(*) from observation where void = 0 and replaced_by is null group by 1, 2, 3, 4;

drop trigger observation_added;
create trigger observation_added after insert on observation begin
  insert or ignore into asked (ask) values (new.ask);
  insert into log_state (player_id, version, rewritten, notes, sum) values (new.player_id, 1, 0, 1, new.id)
    on conflict (player_id) do update set version = version + 1, notes = notes + 1, sum = sum + new.id;
  insert into met (player_id, ask, outcome, right, times) values (new.player_id, new.ask, coalesce(new.outcome, -1), new.right, 1)
    on conflict (player_id, ask, outcome, right) do update set times = times + 1;
end;

drop trigger observation_changed;
create trigger observation_changed after update of replaced_by, void on observation begin
  update log_state set version = version + 1, rewritten = rewritten + 1,
    notes = notes + (new.void = 0 and new.replaced_by is null) - (old.void = 0 and old.replaced_by is null),
    sum = sum + new.id * ((new.void = 0 and new.replaced_by is null) - (old.void = 0 and old.replaced_by is null))
    where player_id = new.player_id;
  update met set times = times + (new.void = 0 and new.replaced_by is null) - (old.void = 0 and old.replaced_by is null)
    where player_id = new.player_id and ask = new.ask and outcome = coalesce(new.outcome, -1) and right = new.right;
end;

-- Estimates as they stood after so many notes: the newest, the one before the last day, and one a month.
drop table estimate;
create table estimate (
  player_id integer not null references player (id) on delete cascade,
  notes integer not null,
  -- The last of those notes, and the sum of their ids: whatever is changed, put in or taken out among them changes the sum.
  day text not null,
  last_id integer not null,
  sum integer not null,
  mark text not null,
  body blob not null,
  primary key (player_id, notes)
) without rowid;
