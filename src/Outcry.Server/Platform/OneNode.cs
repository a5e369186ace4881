using Npgsql;

namespace Outcry.Server.Platform;

/// <summary>Lets one node at a time do a piece of scheduled work, by an advisory lock that ends with its connection.</summary>
internal sealed class OneNode(NpgsqlDataSource source, Readiness readiness)
{
    /// <summary>Does the work, unless another node is at it.</summary>
    public async Task RunAsync(string work, Func<CancellationToken, Task> doAsync, CancellationToken stop)
    {
        await readiness.WaitAsync(stop);
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var ask = new NpgsqlCommand("select pg_try_advisory_lock(hashtext($1))", connection);
        ask.Parameters.AddWithValue($"outcry.{work}");
        if (await ask.ExecuteScalarAsync(stop) is not true)
            return;
        try
        {
            await doAsync(stop);
        }
        finally
        {
            await using var leave = new NpgsqlCommand("select pg_advisory_unlock(hashtext($1))", connection);
            leave.Parameters.AddWithValue($"outcry.{work}");
            await leave.ExecuteScalarAsync(CancellationToken.None);
        }
    }
}
