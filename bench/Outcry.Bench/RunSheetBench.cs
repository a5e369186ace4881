using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using NodaTime;
using Npgsql;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Visitors;
using Outcry.Server.Audience;
using Outcry.Server.Intake;
using Outcry.Server.Live;
using Outcry.Server.Platform;
using Outcry.Server.Replays;
using Outcry.Server.RunSheet;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store;
using Outcry.Store.Rows;
using Outcry.Store.Signals;

namespace Outcry.Bench;

/// <summary>The run sheet of 200 callouts over 40 page groups, as the server makes it once traffic is known, beside the 40 bare plans in it.</summary>
internal static class RunSheetBench
{
    private const int Rounds = 15;
    private const int Visits = 6_000;
    private const int PagesInVisit = 3;

    public static async Task RunAsync(string connection, string file)
    {
        var builder = WebApplication.CreateBuilder();
        builder.Logging.ClearProviders();
        builder.Configuration.AddInMemoryCollection([new("ConnectionStrings:Outcry", connection)]);
        builder.AddPlatform();
        builder.AddSites();
        builder.AddVisitor();
        builder.AddIntake();
        builder.AddLive();
        builder.AddAudience();
        builder.AddReplays();
        await using var app = builder.Build();
        var services = app.Services;
        await using var db = services.GetRequiredService<SystemDb>().Open();
        var row = await db.Sites.SingleAsync(s => s.Key == "bench");
        await FillAsync(db, row, services.GetRequiredService<NpgsqlDataSource>());
        var sites = services.GetRequiredService<LiveSites>();
        await sites.LoadAllAsync(default);
        var site = sites.GetById(row.Id);
        var traffic = await services.GetRequiredService<TrafficReader>().ReadAsync(site.Id, default);
        var census = await services.GetRequiredService<CensusTaker>().ReadAsync(site, default);
        var groups = await db.PageGroups.Where(g => g.SiteId == row.Id).OrderBy(g => g.Position).ToListAsync();
        var now = SystemClock.Instance.GetCurrentInstant();

        double Sheet()
        {
            var clock = Stopwatch.StartNew();
            var maker = new RunSheetMaker(site, SheetSetting.Plain(site.Snapshot, now), traffic, census);
            var (lanes, _, _) = maker.Make(groups);
            var written = JsonSerializer.SerializeToUtf8Bytes(lanes, JsonColumn.Options);
            if (lanes.Count != SampleSite.PageGroups || lanes.Sum(l => l.Starts) == 0 || written.Length == 0)
                throw new InvalidOperationException("The sheet is not what it should be.");
            return clock.Elapsed.TotalMilliseconds;
        }
        double Plans()
        {
            var clock = Stopwatch.StartNew();
            foreach (var group in groups)
                Planner.MakePlan(
                    site.Snapshot,
                    PageAddress.TryAt("pots.test", group.Includes[0].Replace("/**", "/a", StringComparison.Ordinal))!,
                    VisitorRecord.New("bench", now).Arrive(now),
                    VisitorFacts.Unknown,
                    now,
                    PlanOptions.Live
                );
            return clock.Elapsed.TotalMilliseconds;
        }
        Sheet();
        Plans();
        var ours = new List<double>();
        var plain = new List<double>();
        for (var round = 0; round < Rounds; round++)
        {
            ours.Add(Sheet());
            plain.Add(Plans());
        }
        new Figure(
            "run-sheet",
            Figure.Median(ours),
            "ms per sheet",
            Figure.Median(plain),
            Figure.Median(ours.Zip(plain, (o, p) => o / p)),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{ours.Min():0.0} to {ours.Max():0.0} over {Rounds} rounds; budget 100 ms; beside it the 40 bare plans"
            )
        ).Append(file);
    }

    private static async Task FillAsync(OutcryDb db, SiteRow site, NpgsqlDataSource source)
    {
        for (var i = 0; i < SampleSite.PageGroups; i++)
            db.PageGroups.Add(
                new PageGroupRow
                {
                    WorkspaceId = site.WorkspaceId,
                    SiteId = site.Id,
                    Name = $"Group {i}",
                    Includes = [$"/group-{i}/**"],
                    Position = i,
                }
            );
        await db.SaveChangesAsync();
        var random = new Random(7);
        var now = SystemClock.Instance.GetCurrentInstant();
        var signals = new List<Signal>();
        for (var visit = 0; visit < Visits; visit++)
        {
            var at = now - Duration.FromMinutes(random.Next(1, 29 * 24 * 60));
            for (var page = 0; page < PagesInVisit; page++, at += Duration.FromSeconds(40))
                foreach (
                    var (kind, value) in new[] { (SignalKind.View, 0), (SignalKind.Left, random.Next(2_000, 90_000)) }
                )
                    signals.Add(
                        new Signal(
                            Guid.CreateVersion7(),
                            site.Id,
                            at,
                            kind,
                            $"v{visit}",
                            1,
                            $"/group-{random.Next(SampleSite.PageGroups)}/page-{random.Next(5)}",
                            null,
                            value,
                            0
                        )
                    );
        }
        await new SignalCopy(source).WriteAsync(signals, default);
    }
}
