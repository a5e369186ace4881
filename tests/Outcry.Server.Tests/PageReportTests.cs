using System.Text.Json;
using Microsoft.EntityFrameworkCore;

namespace Outcry.Server.Tests;

public sealed class PageReportTests(TestDesk desk)
{
    private Task<HttpResponseMessage> TellAsync(
        Browser browser,
        object more,
        string page = "/quote",
        string? origin = null
    )
    {
        var body = JsonSerializer.SerializeToNode(more)!.AsObject();
        body["site"] = desk.World.Site.Key;
        body["page"] = (origin ?? TestDesk.SiteOrigin) + page;
        body["width"] = 1280;
        body["passport"] = browser.Passport;
        return browser.SendAsync("/v/signals", body, origin ?? TestDesk.SiteOrigin);
    }

    private async Task<Browser> VisitorAsync()
    {
        var browser = new Browser(desk);
        await browser.PlanAsync("/quote");
        return browser;
    }

    private static object Form(Guid source, object fields, Guid? id = null) =>
        new
        {
            form = new
            {
                id = id ?? Guid.NewGuid(),
                source,
                fields,
            },
        };

    [Fact]
    public async Task A_form_met_on_a_page_is_offered_with_what_its_fields_probably_mean()
    {
        var visitor = await VisitorAsync();
        var key = $"callback-{Guid.NewGuid():N}";
        object[] fields =
        [
            new
            {
                name = "your_name",
                type = "text",
                label = "Your name",
            },
            new
            {
                name = "email",
                type = "email",
                label = "E-mail",
            },
            new
            {
                name = "pin",
                type = "password",
                label = "PIN",
            },
            new
            {
                name = "cc",
                type = "text",
                label = "Card",
                autocomplete = "cc-number",
            },
        ];
        using var answer = await TellAsync(visitor, new { found = new[] { new { key, fields } } });
        Assert.Equal(HttpStatusCode.Accepted, answer.StatusCode);
        var list = await (await desk.EditorAsync()).GetAsync($"/api/sites/{desk.World.Site.Id}/forms");
        var form = list.GetProperty("forms").EnumerateArray().Single(f => f.Text("key") == key);
        Assert.Equal("/quote", form.Text("path"));
        Assert.Equal(
            ("your_name", "email"),
            (form.GetProperty("guess").Text("firstName"), form.GetProperty("guess").Text("email"))
        );
        Assert.Equal(
            [true, true, false, false],
            form.GetProperty("fields").EnumerateArray().Select(f => f.GetProperty("mayLeave").GetBoolean())
        );
    }

    [Fact]
    public async Task The_forms_of_a_page_are_found_by_its_address_on_the_sites_own_hosts_only()
    {
        var owner = await desk.OwnerAsync();
        var api = $"/api/sites/{desk.World.Site.Id}/forms/find";
        var foreign = await owner.PostAsync(api, new { address = "http://elsewhere.test/" });
        Assert.Equal((HttpStatusCode.BadRequest, "address"), (foreign.Status, foreign.Body.Text("field")));
        await InstallTests.AllowAsync(owner, desk, new Uri(desk.Outside).Authority);
        var (_, found) = await owner.PostAsync(api, new { address = $"{desk.Outside}/quote" });
        var quote = found.GetProperty("forms").EnumerateArray().Single(f => f.Text("key") == "quote");
        Assert.Contains(
            quote.GetProperty("fields").EnumerateArray(),
            f => f.Text("name") == "pieces" && f.Text("label").StartsWith("How many pieces", StringComparison.Ordinal)
        );
        Assert.Contains(found.GetProperty("forms").EnumerateArray(), f => f.Text("key") == "newsletter");
    }

    [Fact]
    public async Task A_form_that_counts_by_its_thank_you_page_tells_the_browser_how_to_know_it()
    {
        var owner = await desk.OwnerAsync();
        var listening = new Listening(desk, owner);
        await listening.AddAsync(
            "siteForm",
            "enquiry",
            new
            {
                form = new
                {
                    form = "callback",
                    pages = new[] { "/callback" },
                    firstName = (string?)null,
                    lastName = (string?)null,
                    email = (string?)null,
                    product = (string?)null,
                    fields = Array.Empty<string>(),
                    success = new { sign = "page", target = "/callback/thanks" },
                },
            }
        );
        var plan = await new Browser(desk).PlanAsync("/callback");
        var form = plan.GetProperty("forms").EnumerateArray().Single(f => f.Text("form") == "callback");
        Assert.Equal("^/callback/thanks$", form.Text("page"));
        Assert.DoesNotContain(
            (await new Browser(desk).PlanAsync("/other")).GetProperty("forms").EnumerateArray(),
            f => f.Text("form") == "callback"
        );
    }

    [Fact]
    public async Task The_place_comes_from_the_network_and_the_address_is_nowhere_kept()
    {
        var visitor = await VisitorAsync();
        using var answer = await TellAsync(
            visitor,
            Form(desk.World.Newsletter.Id, new { first_name = "Elin", email = "elin.places@post.example" })
        );
        Assert.Equal(HttpStatusCode.Accepted, answer.StatusCode);
        await using var db = desk.Database.Open();
        var row = await db.Events.SingleAsync(e => e.VisitorId == visitor.Visitor);
        // The test's own connection has no address at all; the table is asked in PlacesTests.
        Assert.Equal("", row.City);
        Assert.DoesNotContain(
            typeof(Store.Rows.EventRow).GetProperties(),
            p => p.Name.Contains("Address", StringComparison.Ordinal) && p.Name != "ProductAddress"
        );
    }

    [Fact]
    public async Task Privacy_control_lets_the_event_count_and_names_nobody()
    {
        var visitor = await VisitorAsync();
        var more = JsonSerializer.SerializeToNode(
            Form(desk.World.Newsletter.Id, new { first_name = "Elin", email = "elin.gpc@post.example" })
        )!;
        more["gpc"] = true;
        await TellAsync(visitor, more);
        await using var db = desk.Database.Open();
        var row = await db.Events.SingleAsync(e => e.VisitorId == visitor.Visitor);
        Assert.Equal(("", "", Core.Evidence.EventState.Usable), (row.FirstName, row.City, row.State));
    }

    [Fact]
    public async Task A_form_sent_twice_is_told_once()
    {
        var visitor = await VisitorAsync();
        for (var i = 0; i < 2; i++)
            await TellAsync(
                visitor,
                Form(desk.World.Newsletter.Id, new { first_name = "Elin", email = "elin.twice@post.example" })
            );
        await using var db = desk.Database.Open();
        var states = await db
            .Events.Where(e => e.VisitorId == visitor.Visitor)
            .OrderBy(e => e.ReceivedAt)
            .Select(e => e.State)
            .ToListAsync();
        Assert.Equal([Core.Evidence.EventState.Usable, Core.Evidence.EventState.Duplicate], states);
    }

    [Fact]
    public async Task What_happens_on_a_test_host_is_a_test()
    {
        const string preview = "https://preview.emberwick.example";
        var visitor = new Browser(desk);
        using (
            var plan = await visitor.SendAsync(
                "/v/plan",
                new
                {
                    site = desk.World.Site.Key,
                    page = $"{preview}/quote",
                    width = 1280,
                },
                preview
            )
        )
            visitor.Take(await plan.JsonAsync());
        using var answer = await TellAsync(
            visitor,
            Form(desk.World.Newsletter.Id, new { first_name = "Teo", email = "teo.preview@post.example" }),
            origin: preview
        );
        Assert.Equal(HttpStatusCode.Accepted, answer.StatusCode);
        await using var db = desk.Database.Open();
        Assert.Equal(
            Core.Evidence.EventState.OwnTest,
            (await db.Events.SingleAsync(e => e.VisitorId == visitor.Visitor)).State
        );
    }

    [Fact]
    public async Task A_named_event_reaches_the_source_that_listens_and_an_unknown_name_is_offered()
    {
        var owner = await desk.OwnerAsync();
        var listening = new Listening(desk, owner);
        var id = (
            await listening.AddAsync(
                "pageScript",
                "own",
                new
                {
                    script = new
                    {
                        names = new[] { "glazed" },
                        basketSelector = "",
                        productSelector = "h1",
                    },
                }
            )
        ).Text("id");
        var visitor = await VisitorAsync();
        await TellAsync(
            visitor,
            new
            {
                track = new[]
                {
                    new
                    {
                        id = Guid.NewGuid(),
                        name = "glazed",
                        data = new { product = "Moon jar" },
                    },
                },
            }
        );
        await TellAsync(visitor, new { track = new[] { new { id = Guid.NewGuid(), name = "unheard_of" } } });
        Assert.Equal("Someone: glazed", Listening.Said(Assert.Single(await listening.EventsAsync(id))));
        var forms = await owner.GetAsync($"{listening.Api}/forms");
        Assert.Contains(forms.GetProperty("scriptNames").EnumerateArray(), n => n.GetString() == "unheard_of");
    }

    [Fact]
    public async Task A_basket_addition_is_counted_once_and_needs_its_product()
    {
        var owner = await desk.OwnerAsync();
        var listening = new Listening(desk, owner);
        var id = (
            await listening.AddAsync(
                "pageScript",
                "basketAddition",
                new
                {
                    script = new
                    {
                        names = Array.Empty<string>(),
                        basketSelector = ".add",
                        productSelector = "h1",
                    },
                }
            )
        ).Text("id");
        var visitor = await VisitorAsync();
        var once = new
        {
            track = new[]
            {
                new
                {
                    id = Guid.NewGuid(),
                    name = "basket",
                    data = new
                    {
                        product = "Salt jug",
                        price = "58",
                        currency = "GBP",
                    },
                },
            },
        };
        await TellAsync(visitor, once);
        await TellAsync(visitor, once);
        using var empty = await TellAsync(
            visitor,
            new
            {
                track = new[]
                {
                    new
                    {
                        id = Guid.NewGuid(),
                        name = "basket",
                        data = new { },
                    },
                },
            }
        );
        Assert.Equal(HttpStatusCode.BadRequest, empty.StatusCode);
        var happened = Assert.Single(await listening.EventsAsync(id));
        Assert.Equal(
            ("Someone put Salt jug into the basket", "£58.00"),
            (Listening.Said(happened), happened.Text("amount"))
        );
        var plan = await new Browser(desk).PlanAsync("/quote");
        Assert.Contains(plan.GetProperty("baskets").EnumerateArray(), b => b.Text("selector") == ".add");
    }

    [Fact]
    public async Task Who_a_visitor_is_is_kept_masked_and_a_signature_cannot_be_overwritten()
    {
        // Kept is what a rule asks for.
        var plan = new Core.Visitors.FactTest(
            Core.Visitors.VisitorFact.Attribute,
            Core.Visitors.FactComparison.Is,
            "studio",
            "plan"
        );
        await (await desk.OwnerAsync()).PostAsync(
            $"/api/sites/{desk.World.Site.Id}/segments",
            new
            {
                name = $"Studio {Guid.NewGuid():N}",
                rule = JsonSerializer.SerializeToElement<Core.Visitors.VisitorRule>(plan, Store.JsonColumn.Options),
            }
        );
        var visitor = await VisitorAsync();
        await TellAsync(
            visitor,
            new
            {
                identify = new
                {
                    data = new
                    {
                        id = "c-17",
                        email = "ravi@post.example",
                        name = "Ravi Nair",
                        plan = "studio",
                    },
                    signature = Sign("c-17"),
                },
            }
        );
        await TellAsync(
            visitor,
            new { identify = new { data = new { id = "c-17", plan = "forged" }, signature = new string('0', 64) } }
        );
        await using var db = desk.Database.Open();
        var row = await db.Visitors.SingleAsync(v => v.VisitorId == visitor.Visitor);
        Assert.True(row.IsSigned);
        Assert.Equal(
            ("studio", "r•••••@•••••.example", "Ravi N•••••"),
            (row.Attributes["plan"], row.Attributes["email"], row.Attributes["name"])
        );
        Assert.NotNull(row.EmailKey);
    }

    private string Sign(string id) =>
        Convert.ToHexStringLower(
            System.Security.Cryptography.HMACSHA256.HashData(
                desk.World.Site.IdentitySecret,
                System.Text.Encoding.UTF8.GetBytes(id)
            )
        );

    [Fact]
    public async Task Robots_and_members_are_neither_counted_nor_here()
    {
        var robot = new Browser(desk) { UserAgent = "Wget/1.21.3" };
        var plan = await robot.PlanAsync("/robots-only");
        Assert.False(plan.GetProperty("counted").GetBoolean());
        using var told = await robot.TellAsync([new { id = Guid.NewGuid(), kind = "view" }], path: "/robots-only");
        Assert.Equal(0, (await told.JsonAsync()).GetProperty("accepted").GetInt32());
        var silent = new Browser(desk) { UserAgent = "" };
        Assert.False((await silent.PlanAsync("/robots-only")).GetProperty("counted").GetBoolean());
    }

    [Fact]
    public async Task Before_consent_the_browser_is_told_to_keep_nothing()
    {
        var owner = await desk.OwnerAsync();
        var care = $"/api/sites/{desk.World.Site.Id}/care";
        await owner.SendAsync(HttpMethod.Put, care, new { consent = "afterConsent" });
        try
        {
            Assert.False((await StoreAsync(agreed: false, gpc: false)));
            Assert.True(await StoreAsync(agreed: true, gpc: false));
            Assert.False(await StoreAsync(agreed: true, gpc: true));
        }
        finally
        {
            await owner.SendAsync(HttpMethod.Put, care, new { consent = "atOnce" });
        }
        Assert.True(await StoreAsync(agreed: false, gpc: false));

        async Task<bool> StoreAsync(bool agreed, bool gpc)
        {
            var body = new
            {
                site = desk.World.Site.Key,
                page = TestDesk.SiteOrigin + "/shop",
                width = 1280,
                agreed,
                gpc,
            };
            using var answer = await new Browser(desk).SendAsync("/v/plan", body, TestDesk.SiteOrigin);
            return (await answer.JsonAsync()).GetProperty("store").GetBoolean();
        }
    }

    [Theory]
    [InlineData("""{"track":[{"id":"00000000-0000-0000-0000-000000000001","name":""}]}""", "track.name")]
    [InlineData(
        """{"identify":{"data":{"a":1,"b":1,"c":1,"d":1,"e":1,"f":1,"g":1,"h":1,"i":1,"j":1,"k":1,"l":1,"m":1,"n":1,"o":1,"p":1,"q":1,"r":1,"s":1,"t":1,"u":1}}}""",
        "identify.data"
    )]
    public async Task What_a_page_reports_out_of_bounds_is_refused(string more, string field)
    {
        using var answer = await TellAsync(await VisitorAsync(), JsonSerializer.Deserialize<JsonElement>(more));
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Equal(field, (await answer.JsonAsync()).Text("field"));
    }
}
