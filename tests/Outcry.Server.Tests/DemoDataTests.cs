using Microsoft.EntityFrameworkCore;
using Npgsql;
using Outcry.Core.Publishing;
using Outcry.Server.Platform;
using Outcry.Standins.Seed;
using Outcry.Store.Signals;

namespace Outcry.Server.Tests;

/// <summary>The month of the past that the demo starts with, here with fewer visits a day.</summary>
public sealed class DemoDataTests : IAsyncLifetime
{
    private readonly string _server =
        Environment.GetEnvironmentVariable("OUTCRY_TEST_PG")
        ?? throw new InvalidOperationException("Run the tests with ./outcry test: it starts the database they need.");

    private readonly string _database = $"outcry_test_{Guid.NewGuid():N}";

    private string Connection => $"{_server};Database={_database};Maximum Pool Size=10";

    public async ValueTask InitializeAsync() => await RunAsync($"create database {_database}");

    public async ValueTask DisposeAsync() => await RunAsync($"drop database if exists {_database} with (force)");

    [Fact]
    public async Task Its_live_callouts_were_shown_clicked_and_closed_and_it_is_filled_once()
    {
        string[] args = ["--visits", "25", "--ConnectionStrings:Outcry", Connection];
        Assert.Equal(0, await SeedCommand.RunAsync(args));

        await using var db = SystemDb.To(Connection).Open();
        var live = await db
            .Definitions.Where(d => d.State == DefinitionState.Live)
            .Select(d => d.Id)
            .ToListAsync(TestContext.Current.CancellationToken);
        var figures = await db
            .Database.SqlQuery<Told>(
                $"""select callout_id as "Callout", kind as "Kind" from signals where callout_id is not null"""
            )
            .ToListAsync(TestContext.Current.CancellationToken);
        var shown = figures.Where(f => f.Kind == (short)SignalKind.Shown).Select(f => f.Callout).ToHashSet();
        // Those that need a certain visitor, a rare page or many events may lack their chance in so few visits.
        Assert.True(shown.Count >= 5, $"{shown.Count} of {live.Count} live callouts were ever shown.");
        Assert.Contains(figures, f => f.Kind == (short)SignalKind.Clicked);
        Assert.Contains(figures, f => f.Kind == (short)SignalKind.Closed);

        Assert.Equal(0, await SeedCommand.RunAsync(args));
        Assert.Equal(1, await db.Sites.CountAsync(TestContext.Current.CancellationToken));
    }

    private async Task RunAsync(string sql)
    {
        await using var connection = new NpgsqlConnection($"{_server};Database=postgres;Pooling=false");
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }

    private sealed record Told(Guid Callout, short Kind);
}
