using System.Diagnostics;
using System.Globalization;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Publishing;
using Outcry.Server.Accounts;
using Outcry.Server.Leads;
using Outcry.Server.Live;
using Outcry.Server.Mail;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Server.Talks;
using Outcry.Server.Visitor;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Bench;

/// <summary>The inbox with ten thousand talks, the table of leads with a hundred thousand people: each against the same with few.</summary>
internal static class PeopleBench
{
    private const int ManyTalks = 10_000;
    private const int FewTalks = 100;
    private const int ManyLeads = 100_000;
    private const int FewLeads = 1_000;
    private const int Rounds = 31;

    public static async Task RunAsync(string connection, string file)
    {
        var builder = WebApplication.CreateBuilder();
        builder.Logging.ClearProviders();
        builder.Configuration.AddInMemoryCollection([new("ConnectionStrings:Outcry", connection)]);
        builder.AddPlatform();
        builder.AddAccounts();
        builder.AddSites();
        builder.AddVisitor();
        builder.AddMail();
        builder.AddLive();
        builder.AddLeads();
        await using var app = builder.Build();
        await app.MigrateAsync();
        var (many, few) = (await AddSiteAsync(app, "many"), await AddSiteAsync(app, "few"));
        await using (var db = app.Services.GetRequiredService<SystemDb>().Open())
        {
            db.Database.SetCommandTimeout(600);
            await FillTalksAsync(db, many, ManyTalks);
            await FillTalksAsync(db, few, FewTalks);
            await FillLeadsAsync(db, many, ManyLeads);
            await FillLeadsAsync(db, few, FewLeads);
            await db.Database.ExecuteSqlRawAsync("vacuum analyze talks");
            await db.Database.ExecuteSqlRawAsync("vacuum analyze talk_words");
            await db.Database.ExecuteSqlRawAsync("vacuum analyze leads");
        }
        await CompareAsync("inbox-page-10k", site => TalksAsync(app, site, null), many, few, file);
        await CompareAsync("inbox-words-10k", site => TalksAsync(app, site, "kilns"), many, few, file);
        await CompareAsync("leads-page-100k", site => LeadsAsync(app, site, null), many, few, file);
        await CompareYesesAsync(app, many, file);
        await CompareAsync("leads-words-100k", site => LeadsAsync(app, site, "lead77"), many, few, file);
    }

    private static async Task<SiteRow> AddSiteAsync(WebApplication app, string name)
    {
        await using var db = app.Services.GetRequiredService<SystemDb>().Open();
        var workspace = new WorkspaceRow { Name = name };
        var site = new SiteRow
        {
            WorkspaceId = workspace.Id,
            Name = name,
            Key = $"bench-people-{name}",
            HomeAddress = $"http://{name}.test/",
            AllowedHosts = [$"{name}.test"],
            TimeZone = "Europe/London",
            Rules = HouseRules.Start,
        };
        db.AddRange(workspace, site);
        await db.SaveChangesAsync();
        await app.Services.GetRequiredService<LiveSites>().ReloadAsync(site.Id, CancellationToken.None);
        return site;
    }

    // Each talk has ten words; one in fifty names what is looked for, in another form.
    private static async Task FillTalksAsync(OutcryDb db, SiteRow site, int talks)
    {
        await db.Database.ExecuteSqlInterpolatedAsync(
            $"""
            insert into talks (id, workspace_id, site_id, visitor_id, launcher_id, channel_id, is_test, key_hashes, state, reason, begun_at, last_at,
              last, seen_by_visitor, seen_by_team, mailed_up_to, glimpse, name, language, page, greeting, place, tags, script_revision, is_blocked)
            select gen_random_uuid(), {site.WorkspaceId}, {site.Id}, 'v' || i, gen_random_uuid(), gen_random_uuid(), false, array[]::bytea[],
              case when i % 4 = 0 then 'Unclaimed' else 'Closed' end, '', now() - i * interval '3 minutes', now() - i * interval '2 minutes',
              10, 10, 10, 0, 'A few words', 'Visitor ' || i, 'en', 'http://many.test/shop', '', 'Leeds', array[]::text[], 0, false
            from generate_series(1, {talks}) as i
            """
        );
        await db.Database.ExecuteSqlInterpolatedAsync(
            $"""
            insert into talk_words (id, workspace_id, talk_id, number, by, "for", name, text, at, replies, link, pause_ms, mentions, searched_as)
            select gen_random_uuid(), t.workspace_id, t.id, n, case when n % 2 = 1 then 'Visitor' else 'Member' end, 'Both', '',
              case when n = 5 and right(t.visitor_id, 2) in ('07', '57') then 'When does the kiln open again?' else 'A few words about a jug and a bowl, number ' || n end,
              now(), array[]::text[], '', 0, array[]::uuid[], 'english'
            from talks t cross join generate_series(1, 10) as n where t.site_id = {site.Id}
            """
        );
    }

    private static Task<int> FillLeadsAsync(OutcryDb db, SiteRow site, int leads) =>
        db.Database.ExecuteSqlInterpolatedAsync(
            $"""
            insert into leads (id, workspace_id, sites, email, email_key, first_name, surname, state, promises, withdrawn, gave_at, changed_at,
              answers, tags, visitors, "from", page, campaign, language, place, is_test, zone)
            select gen_random_uuid(), {site.WorkspaceId}, array[{site.Id}]::uuid[], 'lead' || i || '@post.example', 'lead' || i || '@post.example', 'Noor', 'Haddad',
              case when i % 5 = 0 then 'Waiting' else 'Confirmed' end, array[]::uuid[], array[]::uuid[], now() - i * interval '1 minute', now() - i * interval '1 minute',
              jsonb_build_object(), array['letters'], array['v' || i], 'A first piece', 'http://many.test/shop', '', 'en', 'Leeds', false, ''
            from generate_series(1, {leads}) as i
            """
        );

    private static async Task CompareAsync(
        string name,
        Func<SiteRow, Task<double>> once,
        SiteRow many,
        SiteRow few,
        string file
    )
    {
        var (large, small) = (new List<double>(), new List<double>());
        // The first warms both up.
        await once(many);
        await once(few);
        for (var round = 0; round < Rounds; round++)
        {
            large.Add(await once(many));
            small.Add(await once(few));
        }
        var ratios = large.Zip(small, (l, s) => l / s).ToList();
        new Figure(
            name,
            Math.Round(Figure.Median(large), 1),
            "ms a page",
            Math.Round(Figure.Median(small), 1),
            Math.Round(Figure.Median(ratios), 2),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{ratios.Min():0.00} to {ratios.Max():0.00} in {Rounds} rounds; the slowest {large.Max():0} ms"
            )
        ).Append(file);
    }

    private static async Task<double> TalksAsync(WebApplication app, SiteRow site, string? words)
    {
        await using var scope = Enter(app, site);
        var db = scope.ServiceProvider.GetRequiredService<OutcryDb>();
        var watch = Stopwatch.StartNew();
        await ListTalks.HandleAsync(
            site.Id,
            new TalkFilter { Queue = "all", Words = words },
            db,
            app.Services.GetRequiredService<LiveSites>(),
            new CurrentMember(),
            SystemClock.Instance,
            CancellationToken.None
        );
        return watch.Elapsed.TotalMilliseconds;
    }

    private static async Task<double> LeadsAsync(WebApplication app, SiteRow site, string? words)
    {
        await using var scope = Enter(app, site);
        var db = scope.ServiceProvider.GetRequiredService<OutcryDb>();
        var watch = Stopwatch.StartNew();
        await ListLeads.HandleAsync(site.Id, new LeadFilter { Words = words }, db, CancellationToken.None);
        return watch.Elapsed.TotalMilliseconds;
    }

    // What is found of an address that is known and confirmed, against one that nobody gave yet: what the answer must not tell.
    private static async Task CompareYesesAsync(WebApplication app, SiteRow row, string file)
    {
        var site = app.Services.GetRequiredService<LiveSites>().GetById(row.Id);
        var book = app.Services.GetRequiredService<LeadBook>();
        var ask = new AskFacet(
            [new PromptField(Guid.NewGuid(), FieldKind.Email, "email", true, [])],
            [],
            [new AskWords("", "Send it", "One letter a month.", "", "Look in your mail", "", "")],
            Ticks: false,
            Confirms: true,
            Reward.Nothing,
            ["letters"]
        );
        async Task<double> SayAsync(string address)
        {
            var sheet = AnswerSheet.Read(
                ask,
                new Dictionary<string, string> { ["email"] = address },
                agreed: true,
                new AnsweredAt(null, null, "GB", "en", "en")
            );
            var watch = Stopwatch.StartNew();
            await book.TakeAsync(
                site,
                new NewYes(
                    Guid.CreateVersion7(),
                    new SaidYesTo(Guid.Empty, 1, "Letters"),
                    ask,
                    sheet,
                    "One letter a month.",
                    "en",
                    "http://many.test/shop",
                    "",
                    Guid.NewGuid().ToString("N"),
                    "",
                    IsTest: false
                ),
                "http://desk.test",
                CancellationToken.None
            );
            return watch.Elapsed.TotalMilliseconds;
        }
        var (known, unknown) = (new List<double>(), new List<double>());
        for (var i = 1; i <= 2 * 200; i++)
        {
            var there = await SayAsync($"lead{i * 5 + 1}@post.example");
            var fresh = await SayAsync($"nobody{i}@post.example");
            if (i <= 200)
                continue;
            known.Add(there);
            unknown.Add(fresh);
        }
        var slow = known.Concat(unknown).Order().ToList();
        new Figure(
            "yes-known",
            Math.Round(Figure.Median(known), 1),
            "ms",
            Math.Round(Figure.Median(unknown), 1),
            Math.Round(Figure.Median(known) / Figure.Median(unknown), 2),
            string.Create(
                CultureInfo.InvariantCulture,
                $"200 of each in turn; 99 of 100 within {slow[slow.Count * 99 / 100]:0} ms of the {TakeYes.AnswersAfter.TotalMilliseconds:0} after which either is answered"
            )
        ).Append(file);
    }

    // As a member's request sees it: their own workspace, and nothing else.
    private static AsyncServiceScope Enter(WebApplication app, SiteRow site)
    {
        var scope = app.Services.CreateAsyncScope();
        scope.ServiceProvider.GetRequiredService<WorkspaceScope>().Enter(site.WorkspaceId);
        return scope;
    }
}
