ALTER TABLE "WriteFields" ADD "ToCome" INTEGER NOT NULL DEFAULT 0;

UPDATE WriteFields SET ToCome = 1, New = substr(New, 2)
WHERE substr(New, 1, 1) = '+' AND EXISTS (
    SELECT 1 FROM Writes w JOIN Writes m ON m.RunId = w.RunId
    WHERE w.Id = WriteFields.WriteId AND m.Act = 'Create' AND m.TargetKey = WriteFields.New);
