-- What the grown-ups wish of a child's aims: one set aside until it is taken back, one put first for a week.
create table aim_wish (
  player_id integer not null references player (id) on delete cascade,
  skill text not null,
  band integer not null,
  wish text not null check (wish in ('aside', 'first')),
  day text not null,
  primary key (player_id, skill, band)
) without rowid;
