using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Following;
using Outcry.Core.Publishing;
using Outcry.Core.Scripts;
using Outcry.Server.Accounts;
using Outcry.Server.Callouts;
using Outcry.Server.Intake;
using Outcry.Server.Launchers;
using Outcry.Server.Leads;
using Outcry.Server.Live;
using Outcry.Server.Platform;
using Outcry.Server.Publishing;
using Outcry.Server.Sites;
using Outcry.Server.Talks;
using Outcry.Server.Visitor;
using Outcry.Standins.Site;
using Outcry.Store.Rows;
using Outcry.Store.Signals;

namespace Outcry.Standins.Seed;

/// <summary>Fills an empty database with a month of a made-up studio's life.</summary>
internal static class SeedCommand
{
    public const int Days = 31;
    private const int StartSeed = 20261124;

    public static async Task<int> RunAsync(string[] args)
    {
        var builder = WebApplication.CreateBuilder(args);
        builder.Logging.SetMinimumLevel(LogLevel.Warning);
        builder.AddPlatform();
        builder.AddAccounts();
        builder.AddSites();
        builder.AddVisitor();
        builder.AddIntake();
        builder.AddLive();
        builder.AddCallouts();
        builder.AddLaunchers();
        builder.Services.AddDefinitionKind(ScriptKind.Instance, ScriptView.Of, hasOwnList: true);
        builder.Services.AddDefinitionKind(FollowUpKind.Instance, FollowUpView.Of, hasOwnList: true);
        var siteAddress = builder.Configuration["site"]?.TrimEnd('/') ?? "http://localhost:5081";
        var visitsADay = builder.Configuration.GetValue("visits", 240);
        var now = SystemClock.Instance.GetCurrentInstant();
        var clock = new SeedClock(now);
        builder.Services.AddSingleton<IClock>(clock);
        await using var app = builder.Build();
        await app.MigrateAsync();
        await using (var db = app.Services.GetRequiredService<SystemDb>().Open())
            if (await db.Workspaces.AnyAsync())
            {
                await Console.Out.WriteLineAsync("The database has its data already.");
                return 0;
            }
        await FillAsync(app, clock, siteAddress, visitsADay, now);
        return 0;
    }

    private static async Task FillAsync(
        WebApplication app,
        SeedClock clock,
        string siteAddress,
        int visitsADay,
        Instant now
    )
    {
        var today = now.InUtc().Date;
        var firstDay = today.PlusDays(1 - Days).AtMidnight().InUtc().ToInstant();
        var definitions = new Definitions(siteAddress, firstDay);
        await using (var scope = app.Services.CreateAsyncScope())
        await using (var db = app.Services.GetRequiredService<SystemDb>().Open())
            await definitions.WriteAsync(db, scope.ServiceProvider.GetRequiredService<UserManager<Member>>());

        var database = app.Services.GetRequiredService<SystemDb>();
        var sites = app.Services.GetRequiredService<LiveSites>();
        clock.Now = firstDay;
        await sites.ReloadAsync(definitions.Site.Id, CancellationToken.None);
        var callouts = definitions.Callouts().ToList();
        var launchers = definitions.Scripts().Concat(definitions.Launchers()).ToList();
        await using (var db = database.Open())
        {
            db.Definitions.AddRange(callouts.Select(c => c.Row));
            db.Definitions.AddRange(launchers.Select(l => l.Row));
            await db.SaveChangesAsync();
        }
        var past = new PastMaker(
            clock,
            sites,
            app.Services.GetRequiredService<WebhookIntake>(),
            app.Services.GetRequiredService<FormCapture>(),
            app.Services.GetRequiredService<SignalCopy>(),
            definitions,
            Catalogue.Read(),
            siteAddress,
            new Random(StartSeed)
        );
        for (var day = 0; day < Days; day++)
        {
            clock.Now = firstDay + Duration.FromDays(day);
            foreach (
                var row in callouts
                    .Where(c => c.LiveFromDay == day)
                    .Select(c => c.Row)
                    .Concat(launchers.Where(l => l.LiveFromDay == day).Select(l => l.Row))
            )
                await PublishAsync(database, sites, definitions, row, clock.Now);
            if (day == Days - 3)
                foreach (
                    var (row, _, state) in callouts.Where(c =>
                        c.LiveFromDay is not null && c.EndsAs != DefinitionState.Live
                    )
                )
                    await SetStateAsync(database, sites, definitions, row, state, clock.Now);
            await past.PlayDayAsync(firstDay + Duration.FromDays(day), now - Duration.FromMinutes(2), visitsADay);
            if (!Console.IsOutputRedirected)
                await Console.Out.WriteAsync($"\r  day {day + 1} of {Days} ");
        }
        clock.Now = now;
        await new Extras(app.Services, definitions, siteAddress, now).AddAsync();
        await new DemoTeam(app.Services, definitions, now).AddAsync();
        await new DemoTalks(app.Services, definitions, now).AddAsync();
        await new DemoLeads(
            app.Services,
            definitions,
            now,
            app.Configuration["desk"]?.TrimEnd('/') ?? "http://localhost:5080"
        ).AddAsync();
        // A demo in which nothing is shown looks like a product that does nothing.
        if (sites.GetById(definitions.Site.Id).Broken is { Count: > 0 } broken)
            throw new InvalidOperationException(
                $"The demo's own callouts and launchers cannot be shown: {string.Join(" ", broken.Values.Select(b => b.Why).Distinct())}"
            );
        await Console.Out.WriteLineAsync(
            $"\r  {past.Visits} visits, {past.Events} events, {past.Shown} callouts shown"
        );
    }

    private static async Task PublishAsync(
        SystemDb database,
        LiveSites sites,
        Definitions definitions,
        DefinitionRow callout,
        Instant at
    )
    {
        await using var db = database.Open();
        var row = await db.Definitions.FirstAsync(c => c.Id == callout.Id);
        row.State = DefinitionState.Live;
        row.ChangedAt = at;
        row.ChangedBy = "Marta Quill";
        db.Revisions.Add(row.Freeze(at, "Marta Quill"));
        await db.SaveChangesAsync();
        await sites.ReloadAsync(definitions.Site.Id, CancellationToken.None);
    }

    private static async Task SetStateAsync(
        SystemDb database,
        LiveSites sites,
        Definitions definitions,
        DefinitionRow callout,
        DefinitionState state,
        Instant at
    )
    {
        await using var db = database.Open();
        await db
            .Definitions.Where(c => c.Id == callout.Id)
            .ExecuteUpdateAsync(u =>
                u.SetProperty(c => c.State, state)
                    .SetProperty(c => c.ChangedAt, at)
                    .SetProperty(c => c.ChangedBy, "Marta Quill")
            );
        await sites.ReloadAsync(definitions.Site.Id, CancellationToken.None);
    }
}
