-- What is kept of every trainee for Today now also knows what was tried for days and not done once: all of it is made again when it is next read.
truncate trainee_brief;
