CREATE INDEX "IX_Records_ChangedAt" ON "Records" ("ChangedAt");

CREATE VIRTUAL TABLE RecordWords USING fts5(Words, tokenize='trigram', content='', contentless_delete=1);
CREATE VIRTUAL TABLE RecordTrigrams USING fts5vocab('RecordWords', 'row');
CREATE TABLE RecordWordsUpTo (At INTEGER NOT NULL);
INSERT INTO RecordWordsUpTo (At) VALUES (0);
