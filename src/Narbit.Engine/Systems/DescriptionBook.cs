using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Systems;

namespace Narbit.Engine.Systems;

/// <summary>The descriptions that systems had, version by version.</summary>
public static class DescriptionBook
{
    /// <summary>
    /// Writes down the description that a system is given, if it is another than before. One that it had before versions were kept is
    /// written down first.
    /// </summary>
    /// <param name="db">What the system is saved with.</param>
    /// <param name="system">The system, as it will be.</param>
    /// <param name="before">The description and address that it had; null: it is new.</param>
    /// <param name="by">Who gives it.</param>
    /// <param name="at">When.</param>
    /// <param name="cancel">Gives up.</param>
    public static async Task WriteAsync(
        NarbitContext db,
        ConnectedSystem system,
        (string Document, string Address)? before,
        string by,
        DateTimeOffset at,
        CancellationToken cancel
    )
    {
        if (before == (system.Document, system.Address))
            return;
        var last = await db.DescriptionVersions.Where(v => v.SystemId == system.Id).MaxAsync(v => (int?)v.Number, cancel) ?? 0;
        if (last == 0 && before is { } unkept)
            Add(++last, unkept.Document, unkept.Address, "before versions were kept");
        Add(last + 1, system.Document, system.Address, by);

        void Add(int number, string document, string address, string author) =>
            db.DescriptionVersions.Add(
                new DescriptionVersion
                {
                    SystemId = system.Id,
                    Number = number,
                    Document = document,
                    Address = address,
                    Author = author,
                    At = at,
                }
            );
    }
}
