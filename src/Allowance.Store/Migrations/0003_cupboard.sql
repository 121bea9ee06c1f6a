-- What the household has to play with. Sizes are in millimetres; faces and gaps are written as in a setup's link.
create table thing (
  id integer primary key autoincrement,
  name text not null,
  use text not null,
  count integer not null check (count >= 0),
  shape text not null,
  a real not null default 0,
  b real not null default 0,
  c real not null default 0,
  faces text,
  missing text,
  is_food integer not null default 0
);

-- What most homes have, with the packs that were told before there was a cupboard.
insert into thing (name, use, count, shape, a, b, c, faces)
select 'pack of cards', 'packs', cast(coalesce((select value from setting where key = 'packs'), '1') as integer), 'flat', 88, 63, 16, null
where coalesce((select value from setting where key = 'packs'), '1') <> '0'
union all select 'six-sided dice', 'dice', 2, 'flat', 16, 16, 16, 'd6'
union all select 'paper', 'paper', 50, 'flat', 297, 210, 0.1, null;

delete from setting where key = 'packs';

alter table player add column mouths integer not null default 0;
