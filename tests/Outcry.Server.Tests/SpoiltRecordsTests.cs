using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>A desk of its own, whose records and definitions these tests spoil.</summary>
public sealed class SpoiltDesk : TestDesk;

/// <summary>What stands in the records is as strangers, earlier versions and careless hands left it; the desk goes on.</summary>
public sealed class SpoiltRecordsTests(SpoiltDesk desk) : IClassFixture<SpoiltDesk>
{
    private readonly Guid _site = desk.World.Site.Id;

    private string Api => $"/api/sites/{_site}";

    private LiveSites Sites => desk.Services.GetRequiredService<LiveSites>();

    private Task<string> HealthAsync() => desk.Anonymous().GetStringAsync("/health/ready");

    [Fact]
    public async Task One_page_view_of_the_longest_address_leaves_every_room_of_the_desk_standing()
    {
        var browser = new Browser(desk);
        foreach (
            var path in new[]
            {
                "/" + new string('a', 2_048 - TestDesk.SiteOrigin.Length - 1),
                "/" + string.Concat(Enumerable.Repeat("%3F", 600)),
                "/%00%EF%BF%BE/" + new string('é', 400),
            }
        )
        {
            using var planned = await browser.AskAsync(path);
            if (planned.StatusCode != HttpStatusCode.OK)
            {
                Assert.Equal(HttpStatusCode.BadRequest, planned.StatusCode);
                continue;
            }
            browser.Take(await planned.JsonAsync());
            using var told = await browser.TellAsync([View()], path: path);
            Assert.Equal(HttpStatusCode.Accepted, told.StatusCode);
        }
        // And what stood there before anybody capped it.
        await desk.SqlAsync(
            $"""
            insert into signals (id, day, site_id, at, kind, visitor_id, visit, path, value, device, is_test, host, query)
            select gen_random_uuid(), (now() at time zone 'UTC')::date, '{_site}', now(), 1, '{browser.Visitor}', 1, p, 0, 0, false, h, q
            from (values (repeat('/x', 1500), null, null), ('', '', ''), ('no slash', 'a b:c', '?&&=='), ('/%ZZ?#', '[', '%%%'), (E'/\uFFFE', '', null)) as bad(p, h, q)
            """
        );
        await desk.SqlAsync(
            $$"""
            insert into visitors (workspace_id, site_id, visitor_id, first_at, last_at, attributes, is_signed)
            values ('{{desk.World.Site.WorkspaceId}}', '{{_site}}', 'spoilt', now(), now(), '{"": "", "plan": "\ufffe"}', false)
            """
        );
        var owner = await desk.OwnerAsync();
        var callout = await LiveAsync(
            owner,
            b => b with { Where = new WhereFacet(["/rooms"], [], [], Replaces: false) }
        );
        await Sites.LoadAllAsync(CancellationToken.None);
        var known = new Dictionary<string, string>
        {
            ["siteId"] = $"{_site}",
            ["calloutId"] = $"{callout}",
            ["sourceId"] = $"{desk.World.Checkout.Id}",
            ["visitorId"] = browser.Visitor,
            ["number"] = "1",
            ["format"] = "csv",
            ["language"] = "en",
            ["siteKey"] = desk.World.Site.Key,
        };
        var asked = 0;
        foreach (
            var endpoint in (await Endpoints.OfAsync(desk, known)).Where(e =>
                e.Method == HttpMethod.Get && !e.Path.EndsWith("words/try", StringComparison.Ordinal)
            )
        )
        {
            using var answer = await owner.Http.GetAsync(endpoint.Address);
            Assert.True(
                (int)answer.StatusCode < 500,
                $"{endpoint.Address} answered {(int)answer.StatusCode}: {await answer.Content.ReadAsStringAsync()}"
            );
            asked++;
        }
        Assert.InRange(asked, 35, 200);
        foreach (
            var path in new[] { "traffic", "visitors", $"visitors/{browser.Visitor}", "strip", "run-sheet", "callouts" }
        )
            Assert.Equal(HttpStatusCode.OK, (await owner.Http.GetAsync($"{Api}/{path}")).StatusCode);
    }

    private static object View() =>
        new
        {
            id = Guid.NewGuid(),
            kind = "view",
            value = 0,
        };

    private async Task<Guid> LiveAsync(DeskClient owner, Func<Brief, Brief> vary)
    {
        var callout = await Moments.StartAsync(owner, desk, b => Quick(vary(b)));
        var published = await Moments.PublishAsync(owner, desk, callout);
        Assert.True(published.Status == HttpStatusCode.OK, $"{published.Body}");
        return callout;
    }

    private static Brief Quick(Brief b) => b with { From = b.From with { LeastNumber = 1 } };

    /// <summary>Puts another brief behind a callout, as it was stored before anybody refused it.</summary>
    private async Task SpoilAsync(Guid callout, Func<Brief, Brief> spoil)
    {
        await using (var db = desk.Database.Open())
        {
            var revision = db.Revisions.Single(r => r.DefinitionId == callout);
            var json = JsonSerializer
                .Serialize(spoil(revision.Content.Read<Brief>()), JsonColumn.Options)
                .Replace("'", "''", StringComparison.Ordinal);
            await desk.SqlAsync($"update revisions set content = '{json}' where definition_id = '{callout}'");
        }
        await RestartAsync();
    }

    // As a node that starts: what was good last is not in its memory, nor in a load that is still under way.
    private async Task RestartAsync()
    {
        await desk.SqlAsync($"update sites set removed_at = now() where id = '{_site}'");
        await Sites.ReloadAsync(_site, CancellationToken.None);
        await desk.SqlAsync($"update sites set removed_at = null where id = '{_site}'");
        await Sites.ReloadAsync(_site, CancellationToken.None);
    }

    private async Task<List<string>> NotesAsync(DeskClient owner, Guid callout) =>
        [
            .. (await owner.GetAsync($"{Api}/callouts"))
                .EnumerateArray()
                .Single(c => c.GetProperty("id").GetGuid() == callout)
                .GetProperty("notes")
                .EnumerateArray()
                .Select(n => n.Text("note")),
        ];

    [Theory]
    [InlineData("""{{ "x" | replace: "", "a" }}""")]
    [InlineData("""{{ (1..100000000) | join: "," }}""")]
    [InlineData("""{{ name """)]
    public async Task A_wording_stored_long_ago_that_cannot_be_said_silences_its_own_callout_and_the_desk_says_so(
        string wording
    )
    {
        var owner = await desk.OwnerAsync();
        var page = $"/spoilt-{Guid.NewGuid():N}";
        Brief On(Brief b) => b with { Where = new WhereFacet([page], [], [], Replaces: false) };
        var bad = await LiveAsync(owner, On);
        var good = await LiveAsync(owner, On);
        await new Sender(desk).SendAsync(Sender.Purchase($"{bad}"));
        await SpoilAsync(bad, b => b with { Say = b.Say with { Message = wording } });

        var plan = await Eventually.GetAsync(() => new Browser(desk).PlanAsync(page), p => Browser.Cues(p).Count > 0);
        Assert.Equal([good], Browser.Cues(plan));
        Assert.Contains("cannotBeShown", await NotesAsync(owner, bad));
        var why = await owner.Http.GetAsync($"{Api}/callouts/{bad}/why?path={page}");
        Assert.Equal(HttpStatusCode.OK, why.StatusCode);
        // The callout can be put right: its room opens, and a wording that can be said makes it show again.
        var room = await owner.GetAsync($"{Api}/callouts/{bad}");
        var brief = On(Quick(StarterBrief.Moment(Core.Evidence.EventKind.Purchase, [desk.World.Checkout.Id])));
        var version = room.GetProperty("draftVersion").GetInt32();
        Assert.Equal(HttpStatusCode.OK, (await Moments.SaveAsync(owner, desk, bad, brief, version)).Status);
        Assert.Equal(HttpStatusCode.OK, (await Moments.PublishAsync(owner, desk, bad, version + 1)).Status);
        Assert.DoesNotContain("cannotBeShown", await NotesAsync(owner, bad));
    }

    [Fact]
    public async Task A_segment_or_a_page_group_that_is_gone_silences_what_names_it_and_nothing_else()
    {
        var owner = await desk.OwnerAsync();
        var page = $"/gone-{Guid.NewGuid():N}";
        Brief On(Brief b) => b with { Where = new WhereFacet([page], [], [], Replaces: false) };
        var good = await LiveAsync(owner, On);
        var ofNobody = await LiveAsync(owner, On);
        var ofNoPage = await LiveAsync(owner, On);
        await new Sender(desk).SendAsync(Sender.Purchase($"{good}"));
        await SpoilAsync(ofNobody, b => b with { Who = b.Who with { Rule = new InSegment(Guid.NewGuid()) } });
        await SpoilAsync(ofNoPage, b => b with { Where = new WhereFacet([], [], [Guid.NewGuid()], Replaces: false) });
        var plan = await Eventually.GetAsync(() => new Browser(desk).PlanAsync(page), p => Browser.Cues(p).Count > 0);
        Assert.Equal([good], Browser.Cues(plan));
        foreach (var broken in new[] { ofNobody, ofNoPage })
            Assert.Contains("cannotBeShown", await NotesAsync(owner, broken));
        // Paused, it is not resumed as long as it cannot be shown.
        Assert.Equal(HttpStatusCode.OK, (await owner.PostAsync($"{Api}/callouts/{ofNobody}/pause")).Status);
        var (status, problem) = await owner.PostAsync($"{Api}/callouts/{ofNobody}/resume");
        Assert.InRange((int)status, 400, 499);
        Assert.Contains("segment", problem.ToString(), StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public async Task What_an_archived_callout_names_cannot_be_deleted_under_it()
    {
        var owner = await desk.OwnerAsync();
        var (_, segment) = await owner.PostAsync(
            $"{Api}/segments",
            new
            {
                name = $"Kept {Guid.NewGuid():N}",
                rule = JsonSerializer.SerializeToElement<VisitorRule>(
                    new FactTest(VisitorFact.Device, FactComparison.Is, "phone"),
                    JsonColumn.Options
                ),
            }
        );
        var id = segment.GetProperty("id").GetGuid();
        var callout = await LiveAsync(
            owner,
            b =>
                b with
                {
                    Who = b.Who with { Rule = new InSegment(id) },
                    Where = new WhereFacet(["/archived"], [], [], Replaces: false),
                }
        );
        await owner.PostAsync($"{Api}/callouts/{callout}/pause");
        Assert.InRange((int)(await owner.PostAsync($"{Api}/callouts/{callout}/archive")).Status, 200, 204);
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await owner.SendAsync(HttpMethod.Delete, $"{Api}/segments/{id}")).Status
        );
        await owner.PostAsync($"{Api}/callouts/{callout}/restore");
        var (resumed, body) = await owner.PostAsync($"{Api}/callouts/{callout}/resume");
        Assert.True((int)resumed < 300, $"{resumed}: {body}");
    }

    [Fact]
    public async Task A_site_that_cannot_be_read_at_all_keeps_no_other_from_loading_and_health_names_it()
    {
        await desk.SqlAsync($"update sites set rules = '[]' where id = '{desk.OtherSite.Id}'");
        try
        {
            var sites = ActivatorUtilities.CreateInstance<LiveSites>(desk.Services);
            await sites.LoadAllAsync(CancellationToken.None);
            Assert.NotNull(sites.FindById(_site));
            Assert.Null(sites.FindById(desk.OtherSite.Id));
            Assert.Contains($"{desk.OtherSite.Id}", await HealthAsync(), StringComparison.Ordinal);
            await MendAsync();
            await sites.LoadMissingAsync(CancellationToken.None);
            Assert.NotNull(sites.FindById(desk.OtherSite.Id));
        }
        finally
        {
            await MendAsync();
        }

        Task MendAsync() =>
            desk.SqlAsync(
                $"update sites set rules = (select rules from sites where id = '{_site}') where id = '{desk.OtherSite.Id}'"
            );
    }

    [Fact]
    public async Task The_loops_outlive_a_database_that_refuses_and_health_tells()
    {
        var owner = await desk.OwnerAsync();
        var page = $"/loops-{Guid.NewGuid():N}";
        var callout = await LiveAsync(owner, b => b with { Where = new WhereFacet([page], [], [], Replaces: false) });
        await desk.SqlAsync("alter table heard_hosts rename to heard_hosts_away");
        try
        {
            // A sign of life that is to be saved, and cannot be.
            await new Browser(desk).PlanAsync(page);
            await Eventually.GetAsync(HealthAsync, h => h.Contains("signs of life", StringComparison.Ordinal));
        }
        finally
        {
            await desk.SqlAsync("alter table heard_hosts_away rename to heard_hosts");
        }
        await new Sender(desk).SendAsync(Sender.Purchase($"{callout}"));
        await Eventually.GetAsync(() => new Browser(desk).PlanAsync(page), p => Browser.Cues(p).Contains(callout));
        Assert.Equal(HttpStatusCode.OK, (await desk.Anonymous().GetAsync("/health/ready")).StatusCode);
    }

    [Fact]
    public async Task News_missed_while_the_line_to_the_database_was_down_is_read_up()
    {
        const string cut =
            "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and query ilike 'listen %'";
        await desk.SqlAsync(cut);
        // As another node would have done it while nobody listened here.
        await desk.SqlAsync($"update sites set off_air = true where id = '{_site}'");
        try
        {
            await Eventually.GetAsync(() => Task.FromResult(Sites.GetById(_site).OffAir), off => off);
        }
        finally
        {
            await desk.SqlAsync($"update sites set off_air = false where id = '{_site}'");
            await desk.SqlAsync($"notify outcry_site, 'other|{_site}|Definition|'");
        }
        await Eventually.GetAsync(() => Task.FromResult(Sites.GetById(_site).OffAir), off => !off);
        // News that makes no sense, or that cannot be taken up, makes nobody deaf.
        await desk.SqlAsync("notify outcry_site, 'garbage'");
        await desk.SqlAsync($"notify outcry_site, 'other|{Guid.NewGuid()}|Definition|'");
        await desk.SqlAsync($"notify outcry_site, 'other|{_site}|Event|{Guid.NewGuid()}'");
        await desk.SqlAsync("alter table segments rename to segments_away");
        await desk.SqlAsync($"notify outcry_site, 'other|{_site}|Definition|'");
        await Task.Delay(300);
        await desk.SqlAsync("alter table segments_away rename to segments");
        await desk.SqlAsync($"update sites set off_air = true where id = '{_site}'");
        await desk.SqlAsync($"notify outcry_site, 'other|{_site}|Definition|'");
        await Eventually.GetAsync(() => Task.FromResult(Sites.GetById(_site).OffAir), off => off);
        await desk.SqlAsync($"update sites set off_air = false where id = '{_site}'");
        await desk.SqlAsync($"notify outcry_site, 'other|{_site}|Definition|'");
        await Eventually.GetAsync(() => Task.FromResult(Sites.GetById(_site).OffAir), off => !off);
    }

    [Fact]
    public async Task An_intake_is_answered_by_what_was_committed_whatever_befalls_the_note_of_it()
    {
        await desk.SqlAsync("alter table deliveries rename to deliveries_away");
        try
        {
            var (status, _, _) = await new Sender(desk).SendAsync(Sender.Purchase("committed"));
            Assert.Equal(HttpStatusCode.Accepted, status);
        }
        finally
        {
            await desk.SqlAsync("alter table deliveries_away rename to deliveries");
        }
        var (again, body, _) = await new Sender(desk).SendAsync(Sender.Purchase("committed"));
        Assert.Equal((HttpStatusCode.Accepted, "repeated"), (again, body.Text("verdict")));
    }

    [Fact]
    public async Task Updates_of_stock_push_no_reviews_out_of_memory()
    {
        var (stock, reviews) = (Guid.NewGuid(), Guid.NewGuid());
        await using (var db = desk.Database.Open())
        {
            foreach (
                var (id, kind) in new[]
                {
                    (stock, Core.Evidence.EventKind.StockLevel),
                    (reviews, Core.Evidence.EventKind.Review),
                }
            )
                db.Sources.Add(
                    new SourceRow
                    {
                        Id = id,
                        WorkspaceId = desk.World.Site.WorkspaceId,
                        SiteId = _site,
                        Name = $"{kind} {id:N}",
                        Kind = SourceKind.FileImport,
                        EventKind = kind,
                        Display = Core.Saying.DisplayPolicy.Start,
                    }
                );
            await db.SaveChangesAsync();
        }
        const string columns =
            "id, workspace_id, site_id, source_id, external_id, kind, at, received_at, state, first_name, last_initial, masked_name, masked_email, masked_phone, city, region, country, person_key, fields";
        string Fill(Guid source, string kind, int number, string age) =>
            $$"""
                insert into events ({{columns}})
                select gen_random_uuid(), '{{desk.World.Site.WorkspaceId}}', '{{_site}}', '{{source}}', 'e' || n, '{{kind}}', now() - interval '{{age}}' - n * interval '1 second', now(), 'Usable', '', '', '', '', '', '', '', '', 'x:' || n, '{}'
                from generate_series(1, {{number}}) n
                """;
        await desk.SqlAsync(Fill(stock, "StockLevel", 20_050, "1 minute"));
        await desk.SqlAsync(Fill(reviews, "Review", 8, "40 days"));
        await Sites.LoadAllAsync(CancellationToken.None);
        var events = Sites.GetById(_site).Events;
        Assert.Equal(8, events.Count(e => e.SourceId == reviews));
        Assert.InRange(events.Count(e => e.SourceId == stock), 1, 20_000);
    }
}

/// <summary>A loop that breaks is begun again, and what is wrong can be asked.</summary>
public sealed class LoopWatchTests
{
    private static LoopWatch Watch()
    {
        var readiness = new Readiness();
        readiness.Reach();
        return new(
            SystemClock.Instance,
            readiness,
            Microsoft.Extensions.Logging.Abstractions.NullLogger<LoopWatch>.Instance
        );
    }

    [Fact]
    public async Task A_loop_that_breaks_is_begun_again_and_is_ill_until_it_has_gone_round()
    {
        var watch = Watch();
        using var stop = new CancellationTokenSource(TimeSpan.FromSeconds(20));
        var begun = 0;
        var told = new TaskCompletionSource();
        var loop = watch.KeepAsync(
            "kiln watch",
            async end =>
            {
                if (++begun == 1)
                    throw new InvalidOperationException("The kiln is cold.");
                Assert.Equal(
                    Microsoft.Extensions.Diagnostics.HealthChecks.HealthStatus.Unhealthy,
                    watch.Health().Status
                );
                Assert.Contains("kiln watch", watch.Health().Description, StringComparison.Ordinal);
                watch.WentRound("kiln watch");
                told.SetResult();
                await Task.Delay(Timeout.Infinite, end);
            },
            stop.Token
        );
        await told.Task.WaitAsync(stop.Token);
        Assert.Equal(Microsoft.Extensions.Diagnostics.HealthChecks.HealthStatus.Healthy, watch.Health().Status);
        await stop.CancelAsync();
        await loop;
        Assert.Equal(2, begun);
    }

    [Fact]
    public void A_thing_that_was_passed_over_is_a_degradation_with_its_name()
    {
        var watch = Watch();
        watch.PassedOver("one bad row", new FormatException());
        Assert.Equal(Microsoft.Extensions.Diagnostics.HealthChecks.HealthStatus.Degraded, watch.Health().Status);
        Assert.Contains("one bad row", watch.Health().Description, StringComparison.Ordinal);
    }
}
