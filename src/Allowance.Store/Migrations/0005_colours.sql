-- Of small things: how many there are of each colour, written as in a setup's link.
alter table thing add column colours text;
