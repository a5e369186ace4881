using System.Globalization;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Server.Background;
using Outcry.Server.Ledger;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

public sealed class LedgerCareTests(TestDesk desk)
{
    private string Api => $"/api/sites/{desk.World.Site.Id}";

    private async Task<(DeskClient Owner, Listening Listening, string Source, string Secret)> ShopAsync()
    {
        var owner = await desk.OwnerAsync();
        var listening = new Listening(desk, owner);
        var map = new
        {
            kind = "purchase",
            places = new
            {
                id = "/id",
                time = "/at",
                firstName = "/name",
                email = "/mail",
                phone = "/tel",
                product = "/item",
                city = "/city",
                page = "/page",
            },
            fields = new { note = "/note" },
        };
        var source = await listening.AddAsync("signedWebhook", "purchase", new { map });
        return (owner, listening, source.Text("id"), source.Text("secret"));
    }

    private Task<(HttpStatusCode Status, JsonElement Body)> SellAsync(string source, string secret, object order) =>
        Listening.PostAsync(desk.Anonymous(), source, secret, order);

    [Fact]
    public async Task The_ledger_is_filtered_by_kind_state_page_and_words()
    {
        var (_, listening, source, secret) = await ShopAsync();
        await SellAsync(
            source,
            secret,
            new
            {
                id = "f1",
                name = "Saoirse Murphy",
                item = "Moon jar",
                city = "Cork",
                page = "https://pots.example/shop/moon-jar",
            }
        );
        await SellAsync(
            source,
            secret,
            new
            {
                id = "f2",
                name = "Noor Haddad",
                item = "Salt jug",
                city = "Leeds",
                page = "https://pots.example/shop/salt-jug",
            }
        );
        Assert.Equal("f1", await OneAsync("&text=moon"));
        Assert.Equal("f1", await OneAsync("&text=saoi%20cork"));
        Assert.Equal("f2", await OneAsync("&page=/shop/salt"));
        Assert.Equal("f2", await OneAsync("&page=%2Fsalt-*"));
        Assert.Empty(await listening.EventsAsync(source, "&text=moon%20leeds"));
        Assert.Empty(await listening.EventsAsync(source, "&kind=review"));
        Assert.Empty(await listening.EventsAsync(source, "&state=held"));
        Assert.Empty(await listening.EventsAsync(source, "&page=%25"));
        Assert.Equal(2, (await listening.EventsAsync(source, "&text=%26%20%21%20%27")).Count);

        async Task<string> OneAsync(string filter)
        {
            var id = Assert.Single(await listening.EventsAsync(source, filter)).GetProperty("id").GetGuid();
            await using var db = desk.Database.Open();
            return (await db.Events.SingleAsync(e => e.Id == id)).ExternalId;
        }
    }

    [Fact]
    public async Task An_event_beyond_every_callouts_window_is_too_old_and_can_be_filtered_for()
    {
        var (owner, listening, source, secret) = await ShopAsync();
        await SellAsync(
            source,
            secret,
            new
            {
                id = "o1",
                name = "Noor",
                item = "Old jar",
                at = DateTimeOffset.UtcNow.AddDays(-20),
            }
        );
        await SellAsync(
            source,
            secret,
            new
            {
                id = "o2",
                name = "Noor",
                item = "New jar",
            }
        );
        Assert.All(await listening.EventsAsync(source), e => Assert.False(e.GetProperty("tooOld").GetBoolean()));
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b => b with { From = b.From with { Sources = [Guid.Parse(source)], WindowMinutes = 7 * 24 * 60 } }
        );
        Assert.Equal(HttpStatusCode.OK, (await Moments.PublishAsync(owner, desk, callout)).Status);
        var old = Assert.Single(await listening.EventsAsync(source, "&state=tooOld"));
        Assert.Contains("Old jar", Listening.Said(old), StringComparison.Ordinal);
        Assert.True(old.GetProperty("tooOld").GetBoolean());
    }

    [Fact]
    public async Task A_blocked_word_holds_an_event_until_somebody_lets_it_through()
    {
        var (owner, listening, source, secret) = await ShopAsync();
        await SellAsync(
            source,
            secret,
            new
            {
                id = "b1",
                name = "G r o t b a g Klein",
                item = "Held jar",
            }
        );
        var held = Assert.Single(await listening.EventsAsync(source, "&state=held"));
        Assert.Equal("grotbag", held.Text("heldBecause"));
        await owner.PostAsync($"{Api}/events/change", new { act = "release", ids = new[] { held.Text("id") } });
        var passed = Assert.Single(await listening.EventsAsync(source, "&state=usable"));
        Assert.Equal(JsonValueKind.Null, passed.GetProperty("heldBecause").ValueKind);
    }

    [Fact]
    public async Task A_correction_changes_what_is_read_and_keeps_what_it_was()
    {
        var (owner, listening, source, secret) = await ShopAsync();
        await SellAsync(
            source,
            secret,
            new
            {
                id = "c1",
                name = "nOOR haddad",
                item = "Jar",
                note = "gift",
            }
        );
        var id = Assert.Single(await listening.EventsAsync(source)).Text("id");
        var fields = new Dictionary<string, string> { ["first name"] = "Noor", ["note"] = "present" };
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await owner.PostAsync($"{Api}/events/{id}/correct", new { fields })).Status
        );
        var opened = await owner.GetAsync($"{Api}/events/{id}");
        Assert.Equal("Noor H. bought Jar", Listening.Said(opened.GetProperty("event")));
        Assert.Equal(
            [("first name", "nOOR", "Noor"), ("note", "gift", "present")],
            opened
                .GetProperty("corrections")
                .EnumerateArray()
                .Select(c => (c.Text("field"), c.Text("was"), c.Text("is")))
                .Order()
        );
        Assert.Equal("Marta Quill", opened.Text("correctedBy"));
        var unknown = await owner.PostAsync(
            $"{Api}/events/{id}/correct",
            new { fields = new Dictionary<string, string> { ["e-mail"] = "x" } }
        );
        Assert.Equal(HttpStatusCode.BadRequest, unknown.Status);
        var surname = await owner.PostAsync(
            $"{Api}/events/{id}/correct",
            new { fields = new Dictionary<string, string> { ["last initial"] = "Haddad" } }
        );
        Assert.Contains("one letter", surname.Body.Text("detail"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Many_are_deleted_at_once_can_be_taken_back_and_are_gone_after_ten_minutes()
    {
        var (owner, listening, source, secret) = await ShopAsync();
        for (var i = 0; i < 5; i++)
            await SellAsync(
                source,
                secret,
                new
                {
                    id = $"x{i}",
                    name = "Noor",
                    item = i < 3 ? "Bulk jar" : "Other jar",
                }
            );
        var (_, gone) = await owner.PostAsync(
            $"{Api}/events/change",
            new
            {
                act = "delete",
                ids = Array.Empty<string>(),
                all = new { source, text = "bulk" },
            }
        );
        Assert.Equal(3, gone.GetProperty("changed").GetInt32());
        Assert.Equal(2, (await listening.EventsAsync(source)).Count);
        var ids = gone.GetProperty("ids").EnumerateArray().Select(i => i.GetGuid()).ToList();
        await owner.PostAsync($"{Api}/events/change", new { act = "restore", ids = ids.Take(1) });
        Assert.Equal(3, (await listening.EventsAsync(source)).Count);

        var deleted = desk.Services.GetRequiredService<DeletedEvents>();
        await deleted.PurgeAsync(CancellationToken.None);
        await using var db = desk.Database.Open();
        Assert.Equal(3, await db.Events.CountAsync(e => ids.Contains(e.Id)));
        var past = SystemClock.Instance.GetCurrentInstant() - Duration.FromMinutes(11);
        await db
            .Events.Where(e => e.State == EventState.Deleted && ids.Contains(e.Id))
            .ExecuteUpdateAsync(u => u.SetProperty(e => e.DeletedAt, past));
        await deleted.PurgeAsync(CancellationToken.None);
        Assert.Equal(1, await db.Events.CountAsync(e => ids.Contains(e.Id)));
    }

    [Fact]
    public async Task A_person_is_found_by_mail_phone_or_name_and_erased_with_a_proof()
    {
        var (owner, listening, source, secret) = await ShopAsync();
        await SellAsync(
            source,
            secret,
            new
            {
                id = "e1",
                name = "Zebedee Quick",
                mail = "zebedee@post.example",
                tel = "+44 20 7946 0099",
                item = "Jar",
            }
        );
        await SellAsync(
            source,
            secret,
            new
            {
                id = "e2",
                name = "Zebedee Quick",
                mail = "other@post.example",
                tel = "0044 20 7946 0099",
                item = "Jug",
            }
        );
        Assert.Equal(
            1,
            Found((await owner.PostAsync($"{Api}/people/find", new { email = "Zebedee@Post.example" })).Body)
        );
        Assert.Equal(2, Found((await owner.PostAsync($"{Api}/people/find", new { phone = "44 20 7946 0099" })).Body));
        var (_, byName) = await owner.PostAsync($"{Api}/people/find", new { name = "zebedee Quick" });
        Assert.Equal((2, 2), (Found(byName), byName.GetProperty("deliveries").GetArrayLength()));

        var everything = new
        {
            events = byName.GetProperty("events").EnumerateArray().Select(e => e.Text("id")),
            visitors = Array.Empty<string>(),
            deliveries = byName.GetProperty("deliveries").EnumerateArray().Select(d => d.Text("id")),
            foundBy = "name",
        };
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await (await desk.EditorAsync()).PostAsync($"{Api}/people/erase", everything)).Status
        );
        var (_, proof) = await owner.PostAsync($"{Api}/people/erase", everything);
        Assert.Equal((2, 2), (proof.GetProperty("events").GetInt32(), proof.GetProperty("deliveries").GetInt32()));
        Assert.Equal(64, proof.Text("digest").Length);
        Assert.Empty(await listening.EventsAsync(source));
        Assert.Equal(0, Found((await owner.PostAsync($"{Api}/people/find", new { phone = "44 20 7946 0099" })).Body));
        var kept = (await owner.GetAsync($"{Api}/people/erasures")).ToString();
        Assert.DoesNotContain("ebedee", kept, StringComparison.Ordinal);
        Assert.Contains(proof.Text("digest"), kept, StringComparison.Ordinal);
        var (bad, _) = await owner.PostAsync($"{Api}/people/find", new { email = "nobody" });
        Assert.Equal(HttpStatusCode.BadRequest, bad);

        static int Found(JsonElement held) => held.GetProperty("events").GetArrayLength();
    }

    [Fact]
    public async Task An_export_holds_what_is_listed_and_no_formula()
    {
        var (owner, _, source, secret) = await ShopAsync();
        await SellAsync(
            source,
            secret,
            new
            {
                id = "csv1",
                name = "Noor Haddad",
                mail = "noor.export@post.example",
                item = "=1+1",
                note = "a,\"b\"",
            }
        );
        await SellAsync(
            source,
            secret,
            new
            {
                id = "csv2",
                name = "Elin",
                item = "Bowl\nwide",
            }
        );
        using var csv = await owner.Http.GetAsync($"{Api}/events/export.csv?source={source}");
        Assert.Equal("2", csv.Headers.GetValues(ExportEvents.CountHeader).Single());
        var path = Path.GetTempFileName();
        await File.WriteAllTextAsync(path, await csv.Content.ReadAsStringAsync());
        var rows = Intake.Imports.ImportFile.Rows(path, Intake.Imports.FileShape.Csv).ToList();
        File.Delete(path);
        Assert.Equal(["Bowl\nwide", "'=1+1"], rows.Select(r => r.Item!.Read("product")));
        Assert.Equal("{\"note\":\"a,\\u0022b\\u0022\"}", rows[1].Item!.Read("fields"));
        var lines = (await owner.Http.GetStringAsync($"{Api}/events/export.ndjson?source={source}")).Split(
            '\n',
            StringSplitOptions.RemoveEmptyEntries
        );
        Assert.Equal(
            ["Bowl\nwide", "=1+1"],
            lines.Select(l => JsonSerializer.Deserialize<JsonElement>(l).Text("product"))
        );
        Assert.DoesNotContain(
            lines,
            l => l.Contains("noor.export@", StringComparison.Ordinal) || l.Contains("Haddad", StringComparison.Ordinal)
        );
    }

    [Fact]
    public async Task A_view_is_kept_under_its_name_and_shared()
    {
        var owner = await desk.OwnerAsync();
        await owner.PostAsync($"{Api}/views", new { name = "Held ones", query = "state=held&hours=0" });
        await owner.PostAsync($"{Api}/views", new { name = "Held ones", query = "state=held" });
        var list = (await (await desk.EditorAsync()).GetAsync($"{Api}/views"))
            .EnumerateArray()
            .Where(v => v.Text("name") == "Held ones")
            .ToList();
        Assert.Equal("state=held", Assert.Single(list).Text("query"));
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await owner.SendAsync(HttpMethod.Delete, $"{Api}/views/{list[0].Text("id")}")).Status
        );
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await owner.PostAsync($"{Api}/views", new { name = " ", query = "" })).Status
        );
    }

    [Fact]
    public async Task Care_is_set_by_owners_checked_and_tried()
    {
        var owner = await desk.OwnerAsync();
        var care = await owner.GetAsync($"{Api}/care");
        Assert.True(care.GetProperty("suppliedWords").GetProperty("en").GetInt32() > 300);
        Assert.True(care.GetProperty("suppliedWords").EnumerateObject().Sum(l => l.Value.GetInt32()) > 2_000);
        var keeps = new
        {
            eventDays = 0,
            visitDays = 90,
            deliveryDays = 7,
            visitorDays = 180,
        };
        var (status, body) = await owner.SendAsync(HttpMethod.Put, $"{Api}/care", new { keeps });
        Assert.Equal((HttpStatusCode.BadRequest, "keeps.eventDays"), (status, body.Text("field")));
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await (await desk.EditorAsync()).SendAsync(HttpMethod.Put, $"{Api}/care", new { keeps })).Status
        );
        var (_, held) = await owner.PostAsync($"{Api}/care/words/try", new { text = "Gr0tbag Klein" });
        Assert.Equal("grotbag", held.Text("found"));
        var (_, free) = await owner.PostAsync($"{Api}/care/words/try", new { text = "a fine pot" });
        Assert.Equal(JsonValueKind.Null, free.GetProperty("found").ValueKind);
    }

    [Fact]
    public async Task What_is_older_than_the_site_keeps_it_goes_and_the_rest_stays()
    {
        var now = SystemClock.Instance.GetCurrentInstant();
        var site = desk.OtherSite;
        var source = new SourceRow
        {
            WorkspaceId = site.WorkspaceId,
            SiteId = site.Id,
            Name = "Old",
            Display = Core.Saying.DisplayPolicy.Start,
        };
        EventRow Row(int days) =>
            new()
            {
                WorkspaceId = site.WorkspaceId,
                SiteId = site.Id,
                SourceId = source.Id,
                ExternalId = days.ToString(CultureInfo.InvariantCulture),
                At = now - Duration.FromDays(days),
                ReceivedAt = now,
                PersonKey = "x:1",
            };
        await using (var db = desk.Database.Open())
        {
            db.Sources.Add(source);
            db.Events.AddRange(Row(29), Row(31));
            await db.SaveChangesAsync();
            var row = await db.Sites.SingleAsync(s => s.Id == site.Id);
            row.Keeps = row.Keeps with { EventDays = 30 };
            await db.SaveChangesAsync();
        }
        var copy = desk.Services.GetRequiredService<Store.Signals.SignalCopy>();
        Store.Signals.Signal View(int days) =>
            new(
                Guid.NewGuid(),
                site.Id,
                now - Duration.FromDays(days),
                Store.Signals.SignalKind.View,
                "v",
                1,
                "/",
                null,
                0,
                0
            );
        await copy.WriteAsync([View(1), View(500)], CancellationToken.None);
        // Of callouts deleted a month ago nothing is left; of those deleted since, everything.
        var (old, recent) = (Deleted(31), Deleted(29));
        await using (var db = desk.Database.Open())
        {
            db.Definitions.AddRange(old, recent);
            await db.SaveChangesAsync();
        }
        var cleared = await desk.Services.GetRequiredService<RetentionSweep>().RunAsync(CancellationToken.None);
        await using (var db = desk.Database.Open())
            Assert.Equal(
                [recent.Id],
                await db.Definitions.Where(d => d.Id == old.Id || d.Id == recent.Id).Select(d => d.Id).ToListAsync()
            );
        DefinitionRow Deleted(int days) =>
            new()
            {
                WorkspaceId = site.WorkspaceId,
                SiteId = site.Id,
                Kind = BriefKind.Callout,
                Name = $"Deleted {days} days ago",
                Draft = KeptContent.Of(StarterBrief.Moment(EventKind.Purchase, [])),
                ChangedBy = "Marta Quill",
                DeletedAt = now - Duration.FromDays(days),
            };
        Assert.True(cleared is { Events: >= 1, Visits: >= 1, Days: >= 1 }, cleared.ToString());
        await using var after = desk.Database.Open();
        Assert.Equal("29", (await after.Events.SingleAsync(e => e.SourceId == source.Id)).ExternalId);
    }
}
