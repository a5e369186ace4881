using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Outcry.Server.Platform;

/// <summary>Names that a site has once: the database decides, so that two who save at once cannot both have one.</summary>
internal static class UniqueNames
{
    /// <summary>Saves; false when the unique index says that the name is taken. Any other failure is thrown.</summary>
    public static async Task<bool> TrySaveAsync(DbContext db, string index, CancellationToken stop)
    {
        try
        {
            await db.SaveChangesAsync(stop);
            return true;
        }
        catch (DbUpdateException taken)
            when (taken.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation } clash
                && clash.ConstraintName == index
            )
        {
            return false;
        }
    }

    /// <summary>Says that a name is taken.</summary>
    public static ProblemHttpResult Taken(string what, string name) =>
        Problems.Of(
            StatusCodes.Status409Conflict,
            "name-taken",
            "The name is taken",
            $"There is a {what} \"{name}\" already. Choose another name."
        );
}
