create table player (
  id integer primary key autoincrement,
  name text not null,
  birth_month text,
  kind text not null check (kind in ('child', 'grownup', 'other')),
  position integer not null default 0
);

create table setting (
  key text primary key,
  value text not null
) without rowid;

create table saved_setup (
  id integer primary key autoincrement,
  name text not null,
  json text not null,
  saved_at text not null
);

-- A sitting is its events; what it looks like is worked out by replaying them.
create table sitting (
  id integer primary key autoincrement,
  game text not null,
  -- The setup as a link: seats, never names.
  setup text not null,
  way text not null,
  seed integer not null,
  rules_version integer not null,
  started_at text not null,
  ended_at text
);

create table sitting_seat (
  sitting_id integer not null references sitting (id) on delete cascade,
  seat integer not null,
  player_id integer references player (id) on delete set null,
  primary key (sitting_id, seat)
) without rowid;

create table sitting_event (
  sitting_id integer not null references sitting (id) on delete cascade,
  number integer not null,
  at text not null,
  body text not null,
  -- Seats whose notes are hers alone can be erased with her.
  player_id integer references player (id) on delete set null,
  primary key (sitting_id, number)
) without rowid;

-- Posts carry an id, so that a repeated one changes nothing.
create table taken_post (
  id text primary key,
  sitting_id integer not null references sitting (id) on delete cascade
) without rowid;

create table observation (
  id integer primary key autoincrement,
  player_id integer not null references player (id) on delete cascade,
  at text not null,
  day text not null,
  ask text not null,
  outcome integer,
  right integer not null,
  seconds real,
  source text not null,
  sitting_id integer references sitting (id) on delete set null,
  turn integer,
  event integer,
  -- The entry that puts this one right; null while it counts.
  replaced_by integer references observation (id) on delete set null,
  void integer not null default 0
);

create index observation_by_player on observation (player_id, day, id);
create index observation_by_sitting on observation (sitting_id, event);
create index sitting_seat_by_player on sitting_seat (player_id);
create index sitting_by_start on sitting (started_at);
