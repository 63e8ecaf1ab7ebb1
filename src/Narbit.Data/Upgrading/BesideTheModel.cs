namespace Narbit.Data.Upgrading;

/// <summary>What SQLite keeps that EF Core's model has no words for.</summary>
internal static class BesideTheModel
{
    /// <summary>Makes it: what changes in a record's values is noted as it changes, and the words of records are indexed.</summary>
    public const string Made = """
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
        CREATE VIRTUAL TABLE RecordWords USING fts5(Words, tokenize='trigram', content='', contentless_delete=1);
        CREATE VIRTUAL TABLE RecordTrigrams USING fts5vocab('RecordWords', 'row');
        CREATE TABLE RecordWordsUpTo (At INTEGER NOT NULL);
        INSERT INTO RecordWordsUpTo (At) VALUES (0);
        """;

    /// <summary>Takes it away.</summary>
    public const string Gone = """
        DROP TRIGGER Records_ValueChanges;
        DROP TABLE RecordTrigrams;
        DROP TABLE RecordWords;
        DROP TABLE RecordWordsUpTo;
        """;
}
