using Microsoft.EntityFrameworkCore;
using Narbit.Data;

namespace Narbit.Web.Api;

/// <summary>Who is at the screen.</summary>
public static class People
{
    /// <summary>The name that is written into versions, decisions and runs.</summary>
    public static async Task<string> AtWorkAsync(Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await db.Workspaces.Select(w => w.Person).FirstOrDefaultAsync(cancel) ?? "somebody";
    }
}
