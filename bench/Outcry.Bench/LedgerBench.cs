using System.Diagnostics;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using NodaTime;
using Npgsql;
using NpgsqlTypes;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Core.Targeting;
using Outcry.Server.Intake;
using Outcry.Server.Intake.Imports;
using Outcry.Server.Ledger;
using Outcry.Server.Live;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store.Rows;

namespace Outcry.Bench;

/// <summary>Files into the ledger, single events into it, and pages out of it when it is large.</summary>
internal static class LedgerBench
{
    private const int FileRows = 100_000;
    private const int FileRounds = 3;
    private const int Senders = 16;
    private const int EventRounds = 7;
    private const int Large = 1_000_000;
    private const int Small = 10_000;
    private const int Pages = 41;
    private static readonly TimeSpan RoundLength = TimeSpan.FromSeconds(2);

    public static async Task RunAsync(string connection, string file)
    {
        var builder = WebApplication.CreateBuilder();
        builder.Logging.ClearProviders();
        builder.Configuration.AddInMemoryCollection([
            new("ConnectionStrings:Outcry", $"{connection};Maximum Pool Size=40"),
        ]);
        builder.AddPlatform();
        builder.AddSites();
        builder.AddVisitor();
        builder.AddIntake();
        builder.AddLive();
        await using var app = builder.Build();
        await app.MigrateAsync();
        var (large, small) = (await AddSiteAsync(app, "large"), await AddSiteAsync(app, "small"));
        await ImportAsync(app, small, file);
        await SingleAsync(app, small, connection, file);
        await PagesAsync(app, large, small, file);
    }

    private static async Task<SourceRow> AddSiteAsync(WebApplication app, string name)
    {
        await using var db = app.Services.GetRequiredService<SystemDb>().Open();
        var workspace = new WorkspaceRow { Name = name };
        var site = new SiteRow
        {
            WorkspaceId = workspace.Id,
            Name = name,
            Key = $"bench-{name}",
            HomeAddress = $"http://{name}.test/",
            AllowedHosts = [$"{name}.test"],
            TimeZone = "Europe/London",
            Rules = HouseRules.Start,
        };
        var source = NewSource(site);
        db.AddRange(workspace, site, source);
        await db.SaveChangesAsync();
        await app.Services.GetRequiredService<LiveSites>().ReloadAsync(site.Id, CancellationToken.None);
        return source;
    }

    private static SourceRow NewSource(SiteRow site) =>
        new()
        {
            WorkspaceId = site.WorkspaceId,
            SiteId = site.Id,
            Name = "Orders",
            Kind = SourceKind.FileImport,
            EventKind = EventKind.Purchase,
            Display = DisplayPolicy.Start,
        };

    // Reading, mapping, masking, looking for blocked words and repeats, and storing; against COPY of ready rows.
    private static async Task ImportAsync(WebApplication app, SourceRow source, string file)
    {
        var runner = app.Services.GetRequiredService<ImportRunner>();
        var uploads = app.Services.GetRequiredService<UploadStore>();
        var data = app.Services.GetRequiredService<NpgsqlDataSource>();
        var ours = new List<double>();
        var raw = new List<double>();
        for (var round = 0; round < FileRounds; round++)
        {
            using var content = new MemoryStream(Encoding.UTF8.GetBytes(Csv(round)));
            var upload = await uploads.KeepAsync(source.SiteId, "orders.csv", content, CancellationToken.None);
            var clock = Stopwatch.StartNew();
            var done = await runner.RunToEndAsync(
                new ImportOrder(upload!, source, Map, null, DryRun: false, "bench"),
                CancellationToken.None
            );
            ours.Add(done.Read / clock.Elapsed.TotalSeconds);
            if (done.Added != FileRows)
                throw new InvalidOperationException(
                    $"{done.Added} of {FileRows} rows were added; the figure would mean nothing."
                );
            raw.Add(await CopyAsync(data, source));
        }
        Report("import-rows", ours, raw, "rows per second", file);
    }

    private static readonly EventMap Map = new(
        EventKind.Purchase,
        new Dictionary<FieldMeaning, string>
        {
            [FieldMeaning.Id] = "Order",
            [FieldMeaning.Time] = "Date",
            [FieldMeaning.FirstName] = "Name",
            [FieldMeaning.Email] = "E-mail",
            [FieldMeaning.Product] = "Product",
            [FieldMeaning.Amount] = "Total",
            [FieldMeaning.City] = "City",
        },
        new Dictionary<string, string>(),
        "GBP"
    );

    private static string Csv(int round)
    {
        var csv = new StringBuilder("Order,Date,Name,E-mail,Product,Total,City\n");
        for (var i = 0; i < FileRows; i++)
            csv.Append(
                CultureInfo.InvariantCulture,
                $"{round}-{i},2026-{1 + i % 10:00}-{1 + i % 28:00} {i % 24:00}:{i % 60:00},Noor Haddad,noor{i}@post.example,\"Bowl, wide {i % 40}\",{10 + i % 90}.50,Leeds\n"
            );
        return csv.ToString();
    }

    private static async Task<double> CopyAsync(NpgsqlDataSource data, SourceRow source)
    {
        await using var connection = await data.OpenConnectionAsync();
        await using (
            var make = new NpgsqlCommand(
                "drop table if exists raw_events; create table raw_events (id uuid, source_id uuid, external_id text, at timestamptz, name text, email text, person text, product text, amount numeric, city text)",
                connection
            )
        )
            await make.ExecuteNonQueryAsync();
        var now = SystemClock.Instance.GetCurrentInstant();
        var clock = Stopwatch.StartNew();
        for (var lot = 0; lot < FileRows / 2_000; lot++)
        {
            await using var copy = await connection.BeginBinaryImportAsync(
                "copy raw_events from stdin (format binary)"
            );
            for (var i = 0; i < 2_000; i++)
            {
                await copy.StartRowAsync();
                await copy.WriteAsync(Guid.CreateVersion7(), NpgsqlDbType.Uuid);
                await copy.WriteAsync(source.Id, NpgsqlDbType.Uuid);
                await copy.WriteAsync($"{lot}-{i}", NpgsqlDbType.Text);
                await copy.WriteAsync(now, NpgsqlDbType.TimestampTz);
                await copy.WriteAsync("Noor H", NpgsqlDbType.Text);
                await copy.WriteAsync("n•••••@•••••.example", NpgsqlDbType.Text);
                await copy.WriteAsync("e:0123456789abcdef0123456789abcdef", NpgsqlDbType.Text);
                await copy.WriteAsync("Bowl, wide", NpgsqlDbType.Text);
                await copy.WriteAsync(12.5m, NpgsqlDbType.Numeric);
                await copy.WriteAsync("Leeds", NpgsqlDbType.Text);
            }
            await copy.CompleteAsync();
        }
        return FileRows / clock.Elapsed.TotalSeconds;
    }

    // One event a commit, as a shop's webhook brings it; against bare inserts of one row a commit over as many connections.
    private static async Task SingleAsync(WebApplication app, SourceRow source, string connection, string file)
    {
        var recorder = app.Services.GetRequiredService<EventRecorder>();
        var data = app.Services.GetRequiredService<NpgsqlDataSource>();
        var number = 0;
        async Task Ours()
        {
            var id = Interlocked.Increment(ref number);
            var now = SystemClock.Instance.GetCurrentInstant();
            await recorder.RecordAsync(
                new IncomingEvent
                {
                    ExternalId = $"single-{id}",
                    Kind = EventKind.Purchase,
                    At = now,
                    FirstName = "Noor",
                    LastName = "Haddad",
                    Email = $"single{id}@post.example",
                    Product = new EventProduct("Iron bowl"),
                },
                source,
                isOwn: false,
                now,
                CancellationToken.None
            );
        }
        async Task Bare()
        {
            await using var insert = data.CreateCommand(
                "insert into raw_events (id, source_id, external_id, at, name) values ($1, $2, $3, now(), 'Noor')"
            );
            insert.Parameters.AddWithValue(Guid.CreateVersion7());
            insert.Parameters.AddWithValue(source.Id);
            insert.Parameters.AddWithValue($"{Interlocked.Increment(ref number)}");
            await insert.ExecuteNonQueryAsync();
        }
        await RateAsync(Ours);
        await RateAsync(Bare);
        var ours = new List<double>();
        var bare = new List<double>();
        for (var round = 0; round < EventRounds; round++)
        {
            ours.Add(await RateAsync(Ours));
            bare.Add(await RateAsync(Bare));
        }
        Report("events-durable", ours, bare, "events per second", file);
    }

    private static async Task<double> RateAsync(Func<Task> once)
    {
        var clock = Stopwatch.StartNew();
        var done = await Task.WhenAll(
            Enumerable
                .Range(0, Senders)
                .Select(_ =>
                    Task.Run(async () =>
                    {
                        var count = 0;
                        for (; clock.Elapsed < RoundLength; count++)
                            await once();
                        return count;
                    })
                )
        );
        return done.Sum() / clock.Elapsed.TotalSeconds;
    }

    private static async Task PagesAsync(WebApplication app, SourceRow large, SourceRow small, string file)
    {
        var database = app.Services.GetRequiredService<SystemDb>();
        await using (var db = database.Open())
        {
            db.Database.SetCommandTimeout(600);
            await db.Events.Where(e => e.SiteId == small.SiteId).ExecuteDeleteAsync();
            await FillAsync(db, large, Large);
            await FillAsync(db, small, Small);
            await db.Database.ExecuteSqlRawAsync("vacuum analyze events");
        }
        var sites = app.Services.GetRequiredService<LiveSites>();
        await sites.ReloadAsync(large.SiteId, CancellationToken.None);
        await sites.ReloadAsync(small.SiteId, CancellationToken.None);
        foreach (
            var (name, filter, deep) in new[]
            {
                ("ledger-page-1m", new EventFilter(), false),
                ("ledger-page-1m-deep", new EventFilter(), true),
                ("ledger-page-1m-words", new EventFilter { Text = "bowl 17" }, false),
                ("ledger-page-1m-held", new EventFilter { State = "held" }, false),
            }
        )
        {
            var many = new List<double>();
            var few = new List<double>();
            await PageAsync(app, large.SiteId, filter, deep ? Large / 2 : 0);
            await PageAsync(app, small.SiteId, filter, deep ? Small / 2 : 0);
            for (var page = 0; page < Pages; page++)
            {
                many.Add(await PageAsync(app, large.SiteId, filter, deep ? Large / 2 : 0));
                few.Add(await PageAsync(app, small.SiteId, filter, deep ? Small / 2 : 0));
            }
            Report(name, many, few, "seconds a page", file);
        }
    }

    private static Task<int> FillAsync(Store.OutcryDb db, SourceRow source, int rows) =>
        db.Database.ExecuteSqlInterpolatedAsync(
            $"""
            insert into events (id, workspace_id, site_id, source_id, external_id, kind, at, received_at, state, first_name, last_initial,
              masked_name, masked_email, masked_phone, city, region, country, person_key, product_name, product_category, page, amount, currency, fields)
            select gen_random_uuid(), {source.WorkspaceId}, {source.SiteId}, {source.Id}, 'fill-' || i, 'Purchase', now() - i * interval '20 seconds', now(),
              case when i % 5000 = 0 then 'Held' else 'Usable' end, 'Noor', 'H', 'Noor H•••••', 'n•••••@•••••.example', '', 'Leeds', 'Yorkshire', 'England',
              'e:' || (i % 40000), 'Bowl ' || (i % 400), 'Bowls', 'http://large.test/shop/bowl-' || (i % 400), 12.5, 'GBP', jsonb_build_object()
            from generate_series(1, {rows}) as i
            """
        );

    private static async Task<double> PageAsync(WebApplication app, Guid siteId, EventFilter filter, int deep)
    {
        await using var db = app.Services.GetRequiredService<SystemDb>().Open();
        var clock = app.Services.GetRequiredService<IClock>();
        string? after = null;
        if (deep > 0)
            after = new EventCursor(
                clock.GetCurrentInstant() - Duration.FromSeconds(20L * deep),
                Guid.Empty
            ).ToString();
        var watch = Stopwatch.StartNew();
        await ListEvents.HandleAsync(
            siteId,
            filter,
            db,
            app.Services.GetRequiredService<LiveSites>(),
            clock,
            CancellationToken.None,
            after
        );
        return watch.Elapsed.TotalSeconds;
    }

    private static void Report(string name, List<double> ours, List<double> baseline, string unit, string file)
    {
        var ratios = ours.Zip(baseline, (o, b) => o / b).ToList();
        var spread = string.Create(
            CultureInfo.InvariantCulture,
            $"ratio {ratios.Min():0.00} to {ratios.Max():0.00} over {ours.Count} rounds"
        );
        new Figure(name, Figure.Median(ours), unit, Figure.Median(baseline), Figure.Median(ratios), spread).Append(
            file
        );
    }
}
