using Microsoft.Extensions.Diagnostics.HealthChecks;
using Npgsql;

namespace Outcry.Server.Platform;

/// <summary>Ready means that the database answers.</summary>
internal sealed class DatabaseAnswers(NpgsqlDataSource source) : IHealthCheck
{
    public async Task<HealthCheckResult> CheckHealthAsync(HealthCheckContext context, CancellationToken stop = default)
    {
        try
        {
            await using var command = source.CreateCommand("select 1");
            await command.ExecuteScalarAsync(stop);
            return HealthCheckResult.Healthy();
        }
        catch (NpgsqlException away)
        {
            return HealthCheckResult.Unhealthy("The database does not answer.", away);
        }
    }
}
