-- What is in the logbook beside sittings: first looks, games played away from the app, imports, and notes in words.
create table entry (
  id integer primary key autoincrement,
  kind text not null check (kind in ('firstlook', 'typed', 'import', 'words')),
  at text not null,
  ended_at text,
  -- A frame's id, or what the household calls it.
  game text not null default '',
  minutes real,
  words text not null default ''
);

create index entry_by_time on entry (at);

create table entry_player (
  entry_id integer not null references entry (id) on delete cascade,
  player_id integer not null references player (id) on delete cascade,
  primary key (entry_id, player_id)
) without rowid;

create index entry_player_by_player on entry_player (player_id);

alter table observation add column entry_id integer references entry (id) on delete set null;
create index observation_by_entry on observation (entry_id);
create index observation_by_ask on observation (ask);

-- Every ask that was ever noted, so that a skill's notes are found without reading them all.
create table asked (ask text primary key) without rowid;
insert or ignore into asked (ask) select ask from observation;

-- How often a child's notes changed: models in memory are kept by it. "Rewritten" counts changes to what was there before.
create table log_state (
  player_id integer primary key references player (id) on delete cascade,
  version integer not null,
  rewritten integer not null
);
insert into log_state (player_id, version, rewritten) select player_id, count(*), 0 from observation group by player_id;

create trigger observation_added after insert on observation begin
  insert or ignore into asked (ask) values (new.ask);
  insert into log_state (player_id, version, rewritten) values (new.player_id, 1, 0)
    on conflict (player_id) do update set version = version + 1;
end;

create trigger observation_changed after update of replaced_by, void on observation begin
  insert into log_state (player_id, version, rewritten) values (new.player_id, 1, 1)
    on conflict (player_id) do update set version = version + 1, rewritten = rewritten + 1;
end;

-- An estimate as it stood after some note, so that not everything is replayed after a start. It can always be thrown away.
create table estimate (
  player_id integer primary key references player (id) on delete cascade,
  -- What made it: the constants' mark and the birth month; another mark makes it worthless.
  mark text not null,
  rewritten integer not null,
  last_id integer not null,
  observations integer not null,
  body blob not null
);
