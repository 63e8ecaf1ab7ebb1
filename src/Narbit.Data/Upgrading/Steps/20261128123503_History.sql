ALTER TABLE "ValueChanges" ADD "WriteId" INTEGER NULL;

ALTER TABLE "Records" ADD "FirstReadAt" INTEGER NOT NULL DEFAULT 0;

UPDATE Records SET FirstReadAt = COALESCE(
    (SELECT MIN(v.At) FROM ValueChanges v WHERE v.SystemId = Records.SystemId AND v.Kind = Records.Kind
        AND v.Key = Records.Key), ChangedAt);
UPDATE ValueChanges SET WriteId = (
    SELECT w.Id FROM Writes w JOIN WriteFields f ON f.WriteId = w.Id JOIN Runs r ON r.Id = w.RunId
        JOIN Lanes l ON l.Id = r.LaneId
    WHERE ((w.Way = 'There' AND l.TargetId = ValueChanges.SystemId AND w.TargetKey = ValueChanges.Key)
            OR (w.Way = 'Back' AND l.SourceId = ValueChanges.SystemId AND w.SourceKey = ValueChanges.Key))
        AND f.Field = ValueChanges.Field AND f.New IS ValueChanges.New AND w.State = 'Confirmed'
        AND w.SentAt <= ValueChanges.At AND ValueChanges.At <= w.ConfirmedAt + 50000000
    ORDER BY w.Id DESC LIMIT 1);
DROP TRIGGER Records_ValueChanges;
CREATE TRIGGER Records_ValueChanges AFTER UPDATE OF "Values" ON Records
WHEN old."Values" <> new."Values"
BEGIN
    INSERT INTO ValueChanges (SystemId, Kind, Key, Field, Old, New, At)
    SELECT new.SystemId, new.Kind, new.Key, n.key, o.value, n.value, new.ChangedAt
    FROM json_each(new."Values") n LEFT JOIN json_each(old."Values") o ON o.key = n.key
    WHERE o.value IS NOT n.value
    UNION ALL
    SELECT new.SystemId, new.Kind, new.Key, o.key, o.value, NULL, new.ChangedAt
    FROM json_each(old."Values") o
    WHERE NOT EXISTS (SELECT 1 FROM json_each(new."Values") n WHERE n.key = o.key);
END;
