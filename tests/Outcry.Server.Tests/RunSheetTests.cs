using System.Text.Json;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using Outcry.Store;

namespace Outcry.Server.Tests;

/// <summary>The run sheet for any visitor, with changes tried out on it before they are made.</summary>
public sealed class RunSheetTests(TestDesk desk)
{
    private string Site => $"/api/sites/{desk.World.Site.Id}";

    private async Task<Guid> LiveAsync(
        DeskClient owner,
        string path,
        int after,
        int stay,
        int priority,
        Func<Brief, Brief>? vary = null
    )
    {
        var id = await Moments.StartAsync(
            owner,
            desk,
            b =>
                (vary ?? (x => x))(
                    b with
                    {
                        Where = new WhereFacet([path], [], [], Replaces: false),
                        When = b.When with { Triggers = [Trigger.After(after)], Turns = 1 },
                        Look = b.Look with { StaySeconds = stay },
                        Priority = priority,
                    }
                )
        );
        var (status, _) = await Moments.PublishAsync(owner, desk, id);
        Assert.Equal(HttpStatusCode.OK, status);
        return id;
    }

    private async Task<string> GroupAsync(DeskClient owner, string name, string path)
    {
        var (status, made) = await owner.PostAsync(
            $"{Site}/page-groups",
            new
            {
                name,
                includes = new[] { path },
                excludes = Array.Empty<string>(),
            }
        );
        Assert.Equal(HttpStatusCode.Created, status);
        return made.Text("id");
    }

    private async Task EventsAsync()
    {
        for (var i = 0; i < 4; i++)
            await new Sender(desk).SendAsync(Sender.Purchase($"run-sheet-{i}"));
    }

    private static JsonElement Lane(JsonElement sheet, string name) =>
        sheet.GetProperty("lanes").EnumerateArray().Single(l => l.Text("name") == name);

    private static int? StartOf(JsonElement lane, Guid callout) =>
        lane.GetProperty("showings")
            .EnumerateArray()
            .Where(s => s.GetProperty("calloutId").GetGuid() == callout)
            .Select(s => (int?)s.GetProperty("startMs").GetInt32())
            .FirstOrDefault();

    [Fact]
    public async Task A_clash_is_shown_with_changes_that_end_it_and_trying_one_shows_what_it_does()
    {
        var owner = await desk.OwnerAsync();
        await EventsAsync();
        var group = await GroupAsync(owner, "Clashing", "/clashing");
        var first = await LiveAsync(owner, "/clashing", after: 6, stay: 60, priority: 2);
        var late = await LiveAsync(owner, "/clashing", after: 8, stay: 8, priority: 5);
        try
        {
            var lane = await owner.GetAsync($"{Site}/run-sheet/lanes/{group}");
            var clash = Assert.Single(lane.GetProperty("lane").GetProperty("clashes").EnumerateArray());
            Assert.Equal(late, clash.GetProperty("calloutId").GetGuid());
            var mends = Assert
                .Single(lane.GetProperty("mends").EnumerateArray())
                .GetProperty("mends")
                .EnumerateArray()
                .ToList();
            var wait = mends.Single(m => m.Text("trying").StartsWith("wait.", StringComparison.Ordinal));
            Assert.Equal(
                76,
                wait.GetProperty("brief")
                    .GetProperty("when")
                    .GetProperty("triggers")[0]
                    .GetProperty("number")
                    .GetInt32()
            );

            var tried = await owner.GetAsync($"{Site}/run-sheet?trying={wait.Text("trying")}");
            Assert.Equal(76_000, StartOf(Lane(tried, "Clashing"), late));
            Assert.Contains(
                tried.GetProperty("trial").GetProperty("effects").EnumerateArray(),
                e => e.GetString()!.StartsWith("Clashing: shows", StringComparison.Ordinal)
            );
            // Trying changes nothing.
            Assert.Null(StartOf(Lane(await owner.GetAsync($"{Site}/run-sheet"), "Clashing"), late));

            var without = mends.Single(m => m.Text("trying") == $"leaveOut.{first}.{group}");
            var leftOut = Lane(await owner.GetAsync($"{Site}/run-sheet?trying={without.Text("trying")}"), "Clashing");
            Assert.Equal((null, 8_000), (StartOf(leftOut, first), StartOf(leftOut, late)));
        }
        finally
        {
            foreach (var id in new[] { first, late })
                await owner.PostAsync($"{Site}/callouts/{id}/pause");
            await owner.SendAsync(HttpMethod.Delete, $"{Site}/page-groups/{group}");
        }
    }

    [Fact]
    public async Task The_sheet_is_that_of_the_visitor_asked_for_and_says_what_was_taken_for_granted()
    {
        var owner = await desk.OwnerAsync();
        await EventsAsync();
        var group = await GroupAsync(owner, "Personal", "/personal");
        var (_, segment) = await owner.PostAsync(
            $"{Site}/segments",
            new
            {
                name = "Regulars on phones",
                rule = JsonSerializer.SerializeToElement<VisitorRule>(
                    new AllOf([
                        new FactTest(VisitorFact.Device, FactComparison.Is, "phone"),
                        new FactTest(VisitorFact.VisitNumber, FactComparison.AtLeast, "3"),
                    ]),
                    JsonColumn.Options
                ),
            }
        );
        var id = segment.GetProperty("id").GetGuid();
        var callout = await LiveAsync(
            owner,
            "/personal",
            6,
            8,
            5,
            b => b with { Who = b.Who with { Rule = new InSegment(id) } }
        );
        try
        {
            Assert.Null(StartOf(Lane(await owner.GetAsync($"{Site}/run-sheet"), "Personal"), callout));
            var sheet = await owner.GetAsync($"{Site}/run-sheet?segment={id}");
            Assert.Equal(6_000, StartOf(Lane(sheet, "Personal"), callout));
            Assert.Equal(
                ["in visit number 3", "on a phone"],
                sheet.GetProperty("assumed").EnumerateArray().Select(a => a.GetString())
            );
            Assert.Equal(24, sheet.GetProperty("hours").GetArrayLength());
        }
        finally
        {
            await owner.PostAsync($"{Site}/callouts/{callout}/pause");
            await owner.PostAsync($"{Site}/callouts/{callout}/archive");
            await owner.SendAsync(HttpMethod.Delete, $"{Site}/segments/{id}");
            await owner.SendAsync(HttpMethod.Delete, $"{Site}/page-groups/{group}");
        }
    }

    [Fact]
    public async Task As_of_another_hour_its_dates_and_the_events_known_then_decide()
    {
        var owner = await desk.OwnerAsync();
        await EventsAsync();
        var group = await GroupAsync(owner, "Timed", "/timed");
        var opening = NodaTime
            .SystemClock.Instance.GetCurrentInstant()
            .InUtc()
            .Date.PlusDays(30)
            .At(new NodaTime.LocalTime(9, 0));
        var callout = await LiveAsync(
            owner,
            "/timed",
            6,
            8,
            5,
            b => b with { When = b.When with { Schedule = Schedule.Always with { From = opening } } }
        );
        try
        {
            var now = Lane(await owner.GetAsync($"{Site}/run-sheet"), "Timed");
            var waiting = now.GetProperty("waiting")
                .EnumerateArray()
                .Single(w => w.GetProperty("calloutId").GetGuid() == callout);
            Assert.Equal(
                (6_000, true),
                (waiting.GetProperty("atMs").GetInt32(), waiting.GetProperty("isScheduled").GetBoolean())
            );
            var then = Lane(
                await owner.GetAsync($"{Site}/run-sheet?at={opening.PlusHours(1):uuuu-MM-dd'T'HH:mm}"),
                "Timed"
            );
            Assert.Equal(6_000, StartOf(then, callout));
            // A year ago nothing had happened yet that could be told, and its first date was even further off.
            var before = await owner.GetAsync($"{Site}/run-sheet?at={opening.PlusYears(-1):uuuu-MM-dd'T'HH:mm}");
            Assert.Null(StartOf(Lane(before, "Timed"), callout));
        }
        finally
        {
            await owner.PostAsync($"{Site}/callouts/{callout}/pause");
            await owner.SendAsync(HttpMethod.Delete, $"{Site}/page-groups/{group}");
        }
    }

    [Theory]
    [InlineData("persona=emperor", "persona")]
    [InlineData("device=fridge", "device")]
    [InlineData("language=!!", "language")]
    [InlineData("at=tomorrow", "at")]
    [InlineData("trying=wait.nothing", "trying")]
    [InlineData("trying=wait.00000000-0000-0000-0000-000000000001.5", "trying")]
    [InlineData("segment=00000000-0000-0000-0000-000000000001", "segment")]
    public async Task What_cannot_be_is_refused_by_name(string query, string field)
    {
        var (status, problem) = await (await desk.OwnerAsync()).SendAsync(HttpMethod.Get, $"{Site}/run-sheet?{query}");
        Assert.Equal((HttpStatusCode.BadRequest, field), (status, problem.Text("field")));
    }

    [Fact]
    public async Task Publishing_is_told_ahead_with_its_clashes()
    {
        var owner = await desk.OwnerAsync();
        await EventsAsync();
        var group = await GroupAsync(owner, "Ahead", "/ahead");
        var first = await LiveAsync(owner, "/ahead", after: 6, stay: 60, priority: 5);
        var draft = await Moments.StartAsync(
            owner,
            desk,
            b =>
                b with
                {
                    Where = new WhereFacet(["/ahead"], [], [], Replaces: false),
                    When = b.When with { Triggers = [Trigger.After(2)], Turns = 1 },
                    Look = b.Look with { StaySeconds = 60 },
                }
        );
        try
        {
            var ahead = await owner.GetAsync($"{Site}/callouts/{draft}/publication");
            var effects = ahead.GetProperty("effects").EnumerateArray().Select(e => e.GetString()).ToList();
            Assert.Contains("Ahead: shows \"A moment\" at 0:02", effects);
            Assert.Contains("Ahead: no longer shows \"A moment\"", effects);
            var clash = Assert.Single(ahead.GetProperty("clashes").EnumerateArray());
            Assert.True(clash.GetProperty("isNew").GetBoolean());
            Assert.NotEmpty(clash.GetProperty("mends").EnumerateArray());
        }
        finally
        {
            await owner.PostAsync($"{Site}/callouts/{first}/pause");
            await owner.SendAsync(HttpMethod.Delete, $"{Site}/page-groups/{group}");
        }
    }

    [Fact]
    public async Task Page_groups_are_made_changed_ordered_and_kept_while_they_are_named()
    {
        var owner = await desk.OwnerAsync();
        var id = await GroupAsync(owner, "Glazes", "/glazes/**");
        var (twice, taken) = await owner.PostAsync(
            $"{Site}/page-groups",
            new
            {
                name = "Glazes",
                includes = new[] { "/x" },
                excludes = Array.Empty<string>(),
            }
        );
        Assert.Equal((HttpStatusCode.Conflict, "urn:outcry:problem:name-taken"), (twice, taken.Text("type")));
        var (empty, nothing) = await owner.SendAsync(
            HttpMethod.Put,
            $"{Site}/page-groups/{id}",
            new
            {
                name = "Glazes",
                includes = new[] { " " },
                excludes = Array.Empty<string>(),
            }
        );
        Assert.Equal((HttpStatusCode.BadRequest, "includes"), (empty, nothing.Text("field")));

        var callout = await Moments.StartAsync(
            owner,
            desk,
            b => b with { Where = new WhereFacet([], [], [Guid.Parse(id)], Replaces: false) }
        );
        var (kept, inUse) = await owner.SendAsync(HttpMethod.Delete, $"{Site}/page-groups/{id}");
        Assert.Equal((HttpStatusCode.Conflict, "urn:outcry:problem:in-use"), (kept, inUse.Text("type")));

        var all = (await owner.GetAsync($"{Site}/page-groups")).EnumerateArray().Select(g => g.Text("id")).ToList();
        all.Remove(id);
        var (ordered, _) = await owner.SendAsync(
            HttpMethod.Put,
            $"{Site}/page-groups/order",
            new { groups = all.Prepend(id) }
        );
        Assert.Equal(HttpStatusCode.NoContent, ordered);
        var lanes = (await owner.GetAsync($"{Site}/run-sheet")).GetProperty("lanes").EnumerateArray().ToList();
        Assert.Equal("Glazes", lanes[0].Text("name"));
        var (overtaken, _) = await owner.SendAsync(HttpMethod.Put, $"{Site}/page-groups/order", new { groups = all });
        Assert.Equal(HttpStatusCode.Conflict, overtaken);

        // Archived, it may still come back; only a draft that names the group no more lets it go.
        await owner.PostAsync($"{Site}/callouts/{callout}/archive");
        var (stays, _) = await owner.SendAsync(HttpMethod.Delete, $"{Site}/page-groups/{id}");
        Assert.Equal(HttpStatusCode.Conflict, stays);
        await Moments.SaveAsync(
            owner,
            desk,
            callout,
            StarterBrief.Moment(EventKind.Purchase, [desk.World.Checkout.Id]),
            2
        );
        var (gone, _) = await owner.SendAsync(HttpMethod.Delete, $"{Site}/page-groups/{id}");
        Assert.Equal(HttpStatusCode.NoContent, gone);
    }

    [Fact]
    public async Task A_site_taken_off_air_shows_nothing_and_says_who_did_it()
    {
        var stranger = await desk.StrangerAsync();
        var site = $"/api/sites/{desk.OtherSite.Id}";
        await stranger.SendAsync(HttpMethod.Put, $"{site}/off-air", new { offAir = false });
        var (status, _) = await stranger.SendAsync(HttpMethod.Put, $"{site}/off-air", new { offAir = true });
        Assert.Equal(HttpStatusCode.NoContent, status);
        var strip = await stranger.GetAsync($"{site}/strip");
        Assert.Equal((true, "Sol Elsewhere"), (strip.GetProperty("offAir").GetBoolean(), strip.Text("switchedBy")));
        await stranger.SendAsync(HttpMethod.Put, $"{site}/off-air", new { offAir = false });
        Assert.False((await stranger.GetAsync($"{site}/strip")).GetProperty("offAir").GetBoolean());

        var (editor, _) = await (await desk.EditorAsync()).SendAsync(
            HttpMethod.Put,
            $"{Site}/off-air",
            new { offAir = true }
        );
        Assert.Equal(HttpStatusCode.Forbidden, editor);
        var (foreign, _) = await stranger.SendAsync(HttpMethod.Put, $"{Site}/off-air", new { offAir = true });
        Assert.Equal(HttpStatusCode.NotFound, foreign);
    }
}
