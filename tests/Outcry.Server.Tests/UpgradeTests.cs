using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;
using Npgsql;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Timing;
using Outcry.Server.Platform;

namespace Outcry.Server.Tests;

public sealed class UpgradeTests
{
    private readonly string _server = Environment.GetEnvironmentVariable("OUTCRY_TEST_PG")!;

    // As it was written when a moment in a slip after some seconds was all there was.
    private const string OldBrief = """
        {"say":{"message":"**{{ first_name | default: \"Someone\" }}** bought {{ product }}","picture":"product","link":"product","linkAddress":"","newTab":false,"showTime":true},
         "from":{"sources":[],"conditions":[],"join":"all","windowMinutes":10080,"leastNumber":3,"shuffle":true},
         "where":{"includes":["/shop/**"],"excludes":["/shop/sale"]},
         "when":{"afterSeconds":9,"turns":3,"turnGapSeconds":12},
         "howOften":{"unit":"days","everyDays":3,"mostVisits":4,"hushHours":24},
         "look":{"shape":"slip","side":"left","band":"#9C3517","ground":"#FFFFFF","closeMark":true,"staySeconds":7},
         "priority":5}
        """;

    [Fact]
    public async Task Briefs_of_the_first_version_say_the_same_after_the_upgrade()
    {
        var name = $"outcry_upgrade_{Guid.NewGuid():N}";
        await using var server = NpgsqlDataSource.Create($"{_server};Database=postgres");
        await RunAsync(server, $"create database {name}");
        try
        {
            var connection = $"{_server};Database={name};Pooling=false";
            await using var db = new SystemDb(connection).Open();
            var migrator = db.Database.GetService<IMigrator>();
            await migrator.MigrateAsync("20261124233714_Listening");
            await using (var old = NpgsqlDataSource.Create(connection))
            {
                await RunAsync(
                    old,
                    "insert into callouts (id, workspace_id, site_id, name, state, draft, draft_version, revision, created_at, changed_at, changed_by) values (gen_random_uuid(), gen_random_uuid(), gen_random_uuid(), 'Old', 'Live', $1::jsonb, 1, 1, now(), now(), 'Marta')",
                    OldBrief
                );
                await RunAsync(
                    old,
                    "insert into revisions (id, workspace_id, callout_id, number, brief, published_at, published_by) values (gen_random_uuid(), gen_random_uuid(), gen_random_uuid(), 1, $1::jsonb, now(), 'Marta')",
                    OldBrief
                );
            }
            await migrator.MigrateAsync();
            var draft = (await db.Callouts.SingleAsync()).Draft;
            Assert.Equal(CalloutKind.Moment, draft.Kind);
            Assert.Equal(Trigger.After(9), Assert.Single(draft.When.Triggers));
            Assert.Equal((RepeatUnit.Days, 3), (draft.HowOften.Unit, draft.HowOften.Every));
            Assert.Equal(TimeStyle.Ago, draft.Say.Time);
            Assert.Equal(["/shop/sale"], draft.Where.Excludes);
            Assert.DoesNotContain(
                BriefCheck.Problems(draft, []),
                p => p.Blocks && p.Facet is not (Facet.From or Facet.Say)
            );
            var frozen = (await db.Revisions.SingleAsync()).Brief;
            var callout = new Callout(Guid.NewGuid(), "Old", DefinitionState.Live, Instant.MinValue, 1, frozen);
            Assert.Equal(CalloutClass.Floating, callout.Class);
        }
        finally
        {
            await RunAsync(server, $"drop database if exists {name} with (force)");
        }
    }

    private static async Task RunAsync(NpgsqlDataSource on, string sql, string? value = null)
    {
        await using var command = on.CreateCommand(sql);
        if (value is not null)
            command.Parameters.AddWithValue(value);
        await command.ExecuteNonQueryAsync();
    }
}
