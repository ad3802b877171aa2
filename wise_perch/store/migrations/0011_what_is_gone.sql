-- A piece that a session no longer comes to is struck out, and comes back when it does again. What a coach struck out by hand stays struck out: from here on
-- the two are told apart.
alter table evidence add column gone boolean not null default false;
