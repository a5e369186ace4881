using System.Text.Json;
using Microsoft.AspNetCore.Hosting;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;
using Outcry.Server.Audience;
using Outcry.Server.Pictures;
using Outcry.Server.Sites;
using SkiaSharp;

namespace Outcry.Server.Tests;

/// <summary>A desk whose keys are encrypted by one outside the database.</summary>
public sealed class GuardedDesk : TestDesk
{
    internal string Keys { get; } = Path.Combine(Path.GetTempPath(), $"outcry-keys-{Guid.NewGuid():N}.pfx");

    protected override void Vary(IWebHostBuilder builder) => builder.UseSetting("Keys:File", Keys);
}

/// <summary>What is kept, counted and told twice, at a desk set up as it should be.</summary>
public sealed class GuardedDeskTests(GuardedDesk desk) : IClassFixture<GuardedDesk>
{
    private const string Preview = "https://preview.emberwick.example";

    private LiveSite Live => desk.Services.GetRequiredService<LiveSites>().GetById(desk.World.Site.Id);

    private Task<HttpResponseMessage> PlanAsync(Browser browser, string address, string origin) =>
        browser.SendAsync(
            "/v/plan",
            new
            {
                site = desk.World.Site.Key,
                page = address,
                width = 1280,
                passport = browser.Passport,
            },
            origin
        );

    private async Task<Browser> ViewAsync(string path, string origin = TestDesk.SiteOrigin, string languages = "")
    {
        var browser = new Browser(desk) { Languages = languages };
        using var plan = await PlanAsync(browser, origin + path, origin);
        Assert.Equal(HttpStatusCode.OK, plan.StatusCode);
        browser.Take(await plan.JsonAsync());
        using var told = await browser.SendAsync(
            "/v/signals",
            new
            {
                site = desk.World.Site.Key,
                page = origin + path,
                width = 1280,
                passport = browser.Passport,
                signals = new[]
                {
                    new
                    {
                        id = Guid.NewGuid(),
                        kind = "view",
                        value = 0,
                    },
                },
            },
            origin
        );
        Assert.Equal(HttpStatusCode.Accepted, told.StatusCode);
        return browser;
    }

    [Fact]
    public async Task Keys_in_the_database_are_encrypted_by_one_outside_that_only_its_owner_reads()
    {
        await desk.OwnerAsync();
        if (!OperatingSystem.IsWindows())
            Assert.Equal(UnixFileMode.UserRead | UnixFileMode.UserWrite, File.GetUnixFileMode(desk.Keys));
        await using var db = desk.Database.Open();
        var keys = await db
            .Database.SqlQuery<string>($"select xml as \"Value\" from data_protection_keys")
            .ToListAsync();
        Assert.NotEmpty(keys);
        Assert.All(
            keys,
            k =>
            {
                Assert.Contains("EncryptedData", k, StringComparison.Ordinal);
                Assert.DoesNotContain("<masterKey", k, StringComparison.Ordinal);
            }
        );
        File.Delete(desk.Keys);
    }

    [Fact]
    public async Task Whoever_is_on_a_test_host_is_not_here_now()
    {
        var owner = await desk.OwnerAsync();
        var strip = $"/api/sites/{desk.World.Site.Id}/strip";
        var before = (await owner.GetAsync(strip)).GetProperty("visitorsNow").GetInt32();
        for (var i = 0; i < 3; i++)
            await ViewAsync("/quote", Preview);
        Assert.Equal(before, (await owner.GetAsync(strip)).GetProperty("visitorsNow").GetInt32());
        await ViewAsync("/quote");
        Assert.Equal(before + 1, (await owner.GetAsync(strip)).GetProperty("visitorsNow").GetInt32());
    }

    [Theory]
    [InlineData("/sale?colour=blue", 2)]
    [InlineData("pots.test:5081/sale", 4)]
    [InlineData("/sale", 4)]
    public async Task Views_are_counted_by_host_and_query_too(string pattern, int expected)
    {
        var counted = StarterBrief.For(CalloutKind.Tally, EventKind.Purchase, []) with
        {
            Where = new WhereFacet([pattern], [], [], Replaces: false),
        };
        counted = counted with { From = counted.From with { Measure = Measure.PageViews, WindowMinutes = 60 } };
        var owner = await desk.OwnerAsync();
        var callout = await Moments.StartAsync(owner, desk, _ => counted);
        var (status, problem) = await Moments.PublishAsync(owner, desk, callout);
        Assert.True(status == HttpStatusCode.OK, $"{problem}");
        // The rule is live, so that its parameter is asked for.
        foreach (var query in new[] { "?colour=blue", "?colour=blue&token=x", "?colour=red", "" })
            await ViewAsync("/sale" + query);
        var now = SystemClock.Instance.GetCurrentInstant();
        var site = Live;
        var looked = await desk
            .Services.GetRequiredService<LookedCounter>()
            .CountAsync(site.Id, site.HomeHost, [.. site.Callouts.Where(c => c.Id == callout)], now, default);
        // Each row of the theory adds its own views to those before.
        Assert.Equal(0, looked[callout].Views % expected);
        Assert.True(looked[callout].Views >= expected);
        await owner.PostAsync($"/api/sites/{site.Id}/callouts/{callout}/pause");
    }

    [Fact]
    public async Task An_order_that_the_pages_form_and_the_shops_server_tell_in_the_same_instant_counts_once()
    {
        var owner = await desk.OwnerAsync();
        var form = await new Listening(desk, owner).AddAsync(
            "siteForm",
            "purchase",
            new
            {
                form = new
                {
                    form = "order",
                    pages = new[] { "/order" },
                    firstName = "first",
                    lastName = (string?)null,
                    email = "mail",
                    product = "item",
                    fields = Array.Empty<string>(),
                },
            }
        );
        for (var round = 0; round < 6; round++)
        {
            var mail = $"both-{Guid.NewGuid():N}@post.example";
            var browser = new Browser(desk);
            await browser.PlanAsync("/order");
            var told = browser.SendAsync(
                "/v/signals",
                new
                {
                    site = desk.World.Site.Key,
                    page = $"{TestDesk.SiteOrigin}/order",
                    width = 1280,
                    passport = browser.Passport,
                    form = new
                    {
                        id = Guid.NewGuid(),
                        source = form.Text("id"),
                        fields = new
                        {
                            first = "Elin",
                            mail,
                            item = "Ash-glaze mug",
                        },
                    },
                },
                TestDesk.SiteOrigin
            );
            var sent = new Sender(desk).SendAsync(
                Sender.Purchase($"both-{round}-{Guid.NewGuid():N}", "Elin", email: mail)
            );
            using var answer = await told;
            Assert.Equal(HttpStatusCode.Accepted, answer.StatusCode);
            var (status, body, _) = await sent;
            Assert.Equal(HttpStatusCode.Accepted, status);
            await using var db = desk.Database.Open();
            var key = (await db.Events.SingleAsync(e => e.Id == body.GetProperty("id").GetGuid())).PersonKey;
            var states = await db.Events.Where(e => e.PersonKey == key).Select(e => e.State).ToListAsync();
            Assert.Equal(2, states.Count);
            Assert.Single(states, EventState.Duplicate);
        }
    }

    [Fact]
    public async Task What_is_erased_of_a_visitor_is_out_of_the_count_that_was_under_way()
    {
        var census = desk.Services.GetRequiredService<CensusTaker>();
        var browser = await ViewAsync("/shop", languages: "cy");
        async Task<bool> IsToldApartAsync(Task<Census> count) =>
            (await count).Visitors.Any(v => v.Id == browser.Visitor && v.Last.Visit.Facts.Languages.Contains("cy"));
        await Eventually.GetAsync(
            () =>
            {
                census.Forget(Live.Id);
                return IsToldApartAsync(census.ReadAsync(Live, default));
            },
            told => told
        );
        var owner = await desk.OwnerAsync();
        census.Forget(Live.Id);
        var underWay = census.ReadAsync(Live, default);
        var (erased, proof) = await owner.PostAsync(
            $"/api/sites/{Live.Id}/people/erase",
            new
            {
                events = Array.Empty<Guid>(),
                visitors = new[] { browser.Visitor },
                deliveries = Array.Empty<Guid>(),
                foundBy = "e-mail",
            }
        );
        Assert.True((int)erased < 300, $"{proof}");
        await underWay;
        Assert.False(await IsToldApartAsync(census.ReadAsync(Live, default)));
    }

    [Fact]
    public async Task A_small_file_of_many_pixels_takes_no_more_memory_than_a_large_one()
    {
        using var bitmap = new SKBitmap(9_000, 6_000, SKColorType.Gray8, SKAlphaType.Opaque);
        using var image = SKImage.FromBitmap(bitmap);
        using var png = image.Encode(SKEncodedImageFormat.Png, 90);
        using var jpeg = image.Encode(SKEncodedImageFormat.Jpeg, 20);
        bitmap.Reset();
        var (refused, fault) = await PictureFile.ReadAsync(png.ToArray(), CancellationToken.None);
        Assert.Null(refused);
        Assert.Contains("pixels", fault, StringComparison.Ordinal);
        var before = Environment.WorkingSet;
        var (kept, _) = await PictureFile.ReadAsync(jpeg.ToArray(), CancellationToken.None);
        Assert.Equal((960, 640), (kept!.Width, kept.Height));
        // Whole it would be 216 MB in memory.
        Assert.InRange(Environment.WorkingSet - before, long.MinValue, 120L * 1024 * 1024);
    }
}
