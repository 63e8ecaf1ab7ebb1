using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Runs;

/// <summary>What is said of a field that would be emptied, where its system does not let it be.</summary>
internal static class CannotBeEmptied
{
    /// <summary>Of a record in which nothing else is to be written.</summary>
    public static Reason Reason(FieldDescription field, Connection connection) =>
        new Reason(
            "cannotEmpty",
            $"{field.Label} would be emptied, which {connection.System.Name} does not let it be; it is left as it is"
        ).With("field", field.Name);
}
