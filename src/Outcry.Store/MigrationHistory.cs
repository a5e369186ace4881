using System.Reflection;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql;

namespace Outcry.Store;

/// <summary>Whether a database has this version's shape, asked without a model: to be asked at each start.</summary>
public static class MigrationHistory
{
    // As the naming convention writes the framework's own table.
    private const string Question = "select exists (select from \"__EFMigrationsHistory\" where migration_id = $1)";

    /// <summary>The last of this version's migrations; their names begin with their time.</summary>
    public static string Latest { get; } =
        typeof(OutcryDb)
            .Assembly.GetTypes()
            .Select(t => t.GetCustomAttribute<MigrationAttribute>()?.Id)
            .OfType<string>()
            .Max(StringComparer.Ordinal)!;

    /// <summary>Whether the latest migration was carried out; false, too, where there is no such table or database yet.</summary>
    public static async Task<bool> IsCurrentAsync(NpgsqlDataSource database)
    {
        try
        {
            await using var command = database.CreateCommand(Question);
            command.Parameters.AddWithValue(Latest);
            return await command.ExecuteScalarAsync() is true;
        }
        catch (PostgresException missing)
            when (missing.SqlState is PostgresErrorCodes.UndefinedTable or PostgresErrorCodes.InvalidCatalogName)
        {
            return false;
        }
    }
}
