using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using Outcry.Server.Platform;
using Outcry.Store;

namespace Outcry.Server.Tests;

/// <summary>Who comes while the house is still being made ready waits inside; a start asks once whether the database has its shape.</summary>
public sealed class ReadinessTests(TestDesk desk)
{
    private static (Task Entering, Func<bool> Served) Enter(Readiness readiness, string path, CancellationToken gone)
    {
        var served = false;
        var http = new DefaultHttpContext { RequestAborted = gone };
        http.Request.Path = path;
        var entering = readiness.EnterAsync(
            http,
            _ =>
            {
                served = true;
                return Task.CompletedTask;
            }
        );
        return (entering, () => served);
    }

    [Fact]
    public async Task A_request_waits_until_everything_is_there_and_is_served_then()
    {
        var readiness = new Readiness();
        var (entering, served) = Enter(readiness, "/v/plan", CancellationToken.None);
        Assert.False(entering.IsCompleted || served());

        readiness.Reach();
        await entering;

        Assert.True(served());
    }

    [Fact]
    public async Task Health_is_told_at_any_time_and_says_what_is_waited_for()
    {
        var readiness = new Readiness();
        var (entering, served) = Enter(readiness, "/health/ready", CancellationToken.None);
        await entering;
        Assert.True(served());

        var before = await new IsReady(readiness).CheckHealthAsync(new(), CancellationToken.None);
        readiness.Reach();
        var after = await new IsReady(readiness).CheckHealthAsync(new(), CancellationToken.None);

        Assert.Equal(("Unhealthy", "The sites are still being read."), (before.Status.ToString(), before.Description));
        Assert.Equal("Healthy", after.Status.ToString());
    }

    [Fact]
    public async Task Who_goes_away_while_waiting_is_not_served()
    {
        using var gone = new CancellationTokenSource();
        var (entering, served) = Enter(new Readiness(), "/v/plan", gone.Token);

        await gone.CancelAsync();

        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => entering);
        Assert.False(served());
    }

    private sealed class Failing : IBeforeReady
    {
        public Task PrepareAsync(CancellationToken stop) => throw new InvalidOperationException("The kiln is cold.");
    }

    [Fact]
    public async Task A_house_that_cannot_be_made_ready_never_is_and_ends_as_failed()
    {
        var readiness = new Readiness();
        var lifetime = desk.Services.GetRequiredService<Microsoft.Extensions.Hosting.IHostApplicationLifetime>();
        using var getting = new GettingReady([new Failing()], readiness, lifetime);
        try
        {
            await getting.StartAsync(CancellationToken.None);
            await Assert.ThrowsAsync<InvalidOperationException>(() => getting.ExecuteTask!);
            Assert.False(readiness.IsReady);
            Assert.Equal(1, Environment.ExitCode);
        }
        finally
        {
            // It is the whole process's.
            Environment.ExitCode = 0;
        }
    }

    [Fact]
    public async Task A_database_is_current_once_its_latest_migration_was_carried_out_and_never_before()
    {
        var source = desk.Services.GetRequiredService<NpgsqlDataSource>();
        Assert.True(await MigrationHistory.IsCurrentAsync(source));
        var settings = new NpgsqlConnectionStringBuilder(source.ConnectionString)
        {
            Database = "postgres",
            Password = "",
            Pooling = false,
        };
        await using var empty = NpgsqlDataSource.Create(settings);
        Assert.False(await MigrationHistory.IsCurrentAsync(empty));
        settings.Database = $"outcry_nowhere_{Guid.NewGuid():N}";
        await using var nowhere = NpgsqlDataSource.Create(settings);
        Assert.False(await MigrationHistory.IsCurrentAsync(nowhere));
    }
}
