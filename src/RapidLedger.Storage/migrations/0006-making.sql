-- A batch that is being made: how its codes look and how many there are to be, so that a restart goes on with it. None: it is whole.
ALTER TABLE batches ADD COLUMN making TEXT;
