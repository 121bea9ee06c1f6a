-- What the grown-ups said about their weeks, in order: when there is playing, and what was moved, kept, swapped or left out. What is
-- planned follows from it, and from what was played. People stand in it by their numbers.
create table plan_event (
  id integer primary key autoincrement,
  at text not null,
  body text not null
);
