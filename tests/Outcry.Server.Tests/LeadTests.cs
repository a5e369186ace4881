extern alias published;

using System.Text.Json;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Asking;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Targeting;
using Outcry.Server.Leads;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>A desk of its own: its visitors say yes, and are asked nothing more.</summary>
public sealed class LeadDesk : TestDesk;

/// <summary>People who say yes: taken in, confirmed, given what was promised, taken back, listed; and what strangers send.</summary>
public sealed partial class LeadTests(LeadDesk desk) : IClassFixture<LeadDesk>
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    private string Leads => $"/api/sites/{desk.World.Site.Id}/leads";

    private static string Address(string name = "v") => $"{name}{Guid.NewGuid():N}"[..16] + "@reader.net";

    private static AskFacet ByMail(Reward? reward = null) =>
        new(
            [
                new PromptField(Guid.NewGuid(), FieldKind.Email, "email", true, []),
                new PromptField(Guid.NewGuid(), FieldKind.FirstName, "first_name", false, []),
            ],
            [new HiddenField("by", "", "ref")],
            [new AskWords("", "Send it", "One letter a month.", "", "Look in your mail", "", "")],
            Ticks: true,
            Confirms: true,
            reward ?? Reward.Nothing,
            ["letters"]
        );

    // Each test asks on a page of its own.
    private async Task<(Guid Id, string Path)> AskAsync(AskFacet ask)
    {
        var (id, path, published) = await TryAskAsync(ask);
        Assert.True(published.Status == HttpStatusCode.OK, $"{published.Body}");
        return (id, path);
    }

    private async Task<(Guid Id, string Path, (HttpStatusCode Status, JsonElement Body) Published)> TryAskAsync(
        AskFacet ask
    )
    {
        var owner = await desk.OwnerAsync();
        var path = $"/ask/{Guid.NewGuid():N}";
        var start = StarterBrief.For(CalloutKind.Prompt, EventKind.SignUp, []);
        var brief = start with
        {
            Say = start.Say with { Message = "May we write to you?", Picture = SayPicture.None },
            Where = new WhereFacet([path], [], [], Replaces: false),
            When = start.When with { Triggers = [] },
            Ask = ask,
        };
        var (made, body) = await owner.PostAsync($"/api/sites/{desk.World.Site.Id}/callouts", new { kind = "prompt" });
        Assert.True(made == HttpStatusCode.Created, $"{body}");
        var id = body.GetProperty("id").GetGuid();
        var saved = await Moments.SaveAsync(owner, desk, id, brief, 1);
        Assert.True(saved.Status == HttpStatusCode.OK, $"{saved.Body}");
        return (id, path, await Moments.PublishAsync(owner, desk, id));
    }

    private async Task<(HttpStatusCode Status, JsonElement Body)> YesAsync(
        Browser browser,
        (Guid Id, string Path) prompt,
        object fields,
        bool agreed = true,
        Guid? id = null,
        string query = ""
    )
    {
        if (browser.Passport is null)
            await browser.PlanAsync(prompt.Path);
        using var answer = await browser.SendAsync(
            "/v/asks",
            new
            {
                site = desk.World.Site.Key,
                page = TestDesk.SiteOrigin + prompt.Path + query,
                passport = browser.Passport,
                id = id ?? Guid.CreateVersion7(),
                callout = prompt.Id,
                fields,
                agreed,
                language = "en",
            },
            TestDesk.SiteOrigin
        );
        return (answer.StatusCode, await answer.JsonAsync());
    }

    [Fact]
    public async Task An_address_that_is_one_slip_from_what_many_gave_is_asked_after_once_and_taken_when_sent_again()
    {
        var domain = $"d{Guid.NewGuid():N}"[..12] + ".example";
        await using (var db = desk.Database.Open())
        {
            for (var i = 0; i < MistypedDomain.LeastPeople; i++)
                db.Leads.Add(
                    new LeadRow
                    {
                        WorkspaceId = desk.World.Site.WorkspaceId,
                        Sites = [desk.World.Site.Id],
                        Email = $"p{i}@{domain}",
                        EmailKey = $"p{i}@{domain}",
                        GaveAt = SystemClock.Instance.GetCurrentInstant(),
                        ChangedAt = SystemClock.Instance.GetCurrentInstant(),
                        Language = "en",
                    }
                );
            await db.SaveChangesAsync(Stop);
        }
        await desk.Services.GetRequiredService<LiveSites>().ReloadAsync(desk.World.Site.Id, Stop);
        var prompt = await AskAsync(ByMail());
        var browser = new Browser(desk);
        await browser.PlanAsync(prompt.Path);
        var slip = "mira@" + domain[..^1];
        async Task<JsonElement> SendAsync(bool sure, string? zone)
        {
            using var answer = await browser.SendAsync(
                "/v/asks",
                new
                {
                    site = desk.World.Site.Key,
                    page = TestDesk.SiteOrigin + prompt.Path,
                    passport = browser.Passport,
                    id = Guid.CreateVersion7(),
                    callout = prompt.Id,
                    fields = new { email = slip },
                    agreed = true,
                    language = "en",
                    sure,
                    zone,
                },
                TestDesk.SiteOrigin
            );
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            return await answer.JsonAsync();
        }
        async Task<LeadRow?> FindAsync()
        {
            await using var db = desk.Database.Open();
            return await db.Leads.FirstOrDefaultAsync(l => l.Email == slip, Stop);
        }
        var asked = await SendAsync(sure: false, zone: null);
        Assert.Equal(
            ("email", $"mira@{domain}"),
            (asked.GetProperty("meant").Text("key"), asked.GetProperty("meant").Text("address"))
        );
        Assert.Null(await FindAsync());
        var taken = await SendAsync(sure: true, zone: "'; drop table leads --");
        Assert.False(taken.TryGetProperty("meant", out _));
        Assert.Equal("", (await FindAsync())!.Zone);
        await SendAsync(sure: true, zone: "Asia/Tokyo");
        Assert.Equal("Asia/Tokyo", (await FindAsync())!.Zone);
    }

    private async Task<string> LinkAsync(string address, string act, string subject)
    {
        var mail = await Mails.ToAsync(desk, address, subject);
        var link = Link()
            .Matches(mail.Replace("=\r\n", "", StringComparison.Ordinal))
            .Select(m => m.Value)
            .First(l => l.Contains($"/o/{act}/", StringComparison.Ordinal));
        return new Uri(link).PathAndQuery;
    }

    [GeneratedRegex(@"https?://\S+/o/\w+/\S+")]
    private static partial Regex Link();

    private async Task<(HttpStatusCode Status, string Page)> OpenAsync(string path, bool press = false)
    {
        using var client = desk.Anonymous();
        using var answer = press ? await client.PostAsync(path, null, Stop) : await client.GetAsync(path, Stop);
        return (answer.StatusCode, await answer.Content.ReadAsStringAsync(Stop));
    }

    private async Task<LeadRow> LeadAsync(string address)
    {
        await using var db = desk.Database.Open();
        return await db.Leads.AsNoTracking().SingleAsync(l => l.EmailKey == address, Stop);
    }

    [Fact]
    public async Task A_yes_waits_until_its_owner_presses_the_button_and_opening_the_link_is_no_press()
    {
        var prompt = await AskAsync(ByMail(new Reward(RewardKind.Code, "KILN-10", null, false)));
        var (browser, address, id) = (new Browser(desk), Address(), Guid.CreateVersion7());
        var (status, body) = await YesAsync(
            browser,
            prompt,
            new { email = address, first_name = "Noor" },
            id: id,
            query: "?ref=autumn&pw=secret"
        );
        Assert.True(status == HttpStatusCode.OK, $"{body}");
        Assert.Equal("v•••••@•••••.net", body.Text("wrote"));
        Assert.False(body.TryGetProperty("code", out _));
        // Its first answer was lost on its way: sent again it is one yes and one mail.
        await YesAsync(browser, prompt, new { email = address }, id: id);
        var lead = await LeadAsync(address);
        Assert.Equal((LeadState.Waiting, "Noor", "autumn"), (lead.State, lead.FirstName, lead.Answers["by"]));
        Assert.DoesNotContain("secret", JsonSerializer.Serialize(lead), StringComparison.Ordinal);
        var link = await LinkAsync(address, "confirm", "Please confirm");
        var (opened, asks) = await OpenAsync(link);
        Assert.Equal(HttpStatusCode.OK, opened);
        Assert.Contains("method=\"post\"", asks, StringComparison.Ordinal);
        Assert.Equal(LeadState.Waiting, (await LeadAsync(address)).State);
        var (_, done) = await OpenAsync(link, press: true);
        Assert.Contains("KILN-10", done, StringComparison.Ordinal);
        Assert.Equal(LeadState.Confirmed, (await LeadAsync(address)).State);
        // Pressed again it changes nothing, and shows the same.
        Assert.Contains("KILN-10", (await OpenAsync(link, press: true)).Page, StringComparison.Ordinal);
        Assert.Contains(
            "KILN-10",
            await Mails.ToAsync(desk, address, "Here is what is yours"),
            StringComparison.Ordinal
        );
        // Whoever said yes is not asked again, and the ledger has the sign-up, masked.
        Assert.DoesNotContain(prompt.Id, Browser.Cues(await browser.PlanAsync(prompt.Path)));
        await using var db = desk.Database.Open();
        var happened = await db.Events.SingleAsync(e => e.ExternalId == id.ToString(), Stop);
        Assert.Equal((EventKind.SignUp, "Noor"), (happened.Kind, happened.FirstName));
        var yes = await db.LeadYeses.SingleAsync(y => y.LeadId == lead.Id, Stop);
        Assert.True(yes.Ticked);
        Assert.Equal("One letter a month.", (await db.Promises.SingleAsync(p => p.Id == yes.PromiseId, Stop)).Text);
    }

    [Fact]
    public async Task What_the_first_page_brought_a_box_they_ticked_and_a_page_of_ones_own_behind_the_mail()
    {
        var ask = ByMail(new Reward(RewardKind.Code, "KILN-11", null, false));
        var prompt = await AskAsync(
            ask with
            {
                Fields =
                [
                    .. ask.Fields,
                    new PromptField(
                        Guid.NewGuid(),
                        FieldKind.Consent,
                        "older",
                        true,
                        [new FieldWords("", "I am over 16", [])]
                    ),
                ],
                Hidden = [new HiddenField("first", "", "mag") { OfEntry = true }, new HiddenField("last", "", "mag")],
                Landing = "/thanks?for=letters",
            }
        );
        var (browser, address) = (new Browser(desk), Address());
        // The visit comes in by another page, and no rule asks for that parameter but the prompt.
        await browser.PlanAsync("/fair?mag=autumn&pw=secret");
        await browser.PlanAsync(prompt.Path);
        var (refused, faults) = await YesAsync(browser, prompt, new { email = address });
        Assert.True(
            refused == HttpStatusCode.OK && faults.GetProperty("faults").TryGetProperty("older", out _),
            $"{faults}"
        );
        var (status, body) = await YesAsync(
            browser,
            prompt,
            new { email = address, older = "yes" },
            query: "?mag=shelf"
        );
        Assert.True(status == HttpStatusCode.OK, $"{body}");
        var lead = await LeadAsync(address);
        Assert.Equal(
            ("autumn", "shelf", "I am over 16"),
            (lead.Answers["first"], lead.Answers["last"], lead.Answers["older"])
        );
        Assert.DoesNotContain("secret", JsonSerializer.Serialize(lead), StringComparison.Ordinal);

        var link = await LinkAsync(address, "confirm", "Please confirm");
        using var client = desk.Anonymous();
        using var asks = await client.GetAsync(link, Stop);
        var there = new Uri(new Uri(desk.World.Site.HomeAddress), "/thanks?for=letters");
        // Browsers hold a form's answer to its page's policy, where it leads elsewhere, too.
        Assert.Contains(
            $"form-action 'self' {there.GetLeftPart(UriPartial.Authority)};",
            asks.Headers.GetValues("Content-Security-Policy").Single(),
            StringComparison.Ordinal
        );
        using var pressed = await client.PostAsync(link, null, Stop);
        Assert.Equal((HttpStatusCode.SeeOther, there), (pressed.StatusCode, pressed.Headers.Location));
        Assert.Contains(
            "KILN-11",
            await Mails.ToAsync(desk, address, "Here is what is yours"),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task The_page_behind_the_mail_has_words_of_its_own_and_no_page_of_others_is_gone_live_with()
    {
        var ask = ByMail();
        var prompt = await AskAsync(ask with { Words = [ask.Words[0] with { Confirmed = "You are in, <b>Noor</b>" }] });
        var address = Address();
        await YesAsync(new Browser(desk), prompt, new { email = address });
        var (_, done) = await OpenAsync(await LinkAsync(address, "confirm", "Please confirm"), press: true);
        Assert.Contains("You are in, &lt;b&gt;Noor&lt;/b&gt;", done, StringComparison.Ordinal);

        var (_, _, refused) = await TryAskAsync(ask with { Landing = "https://elsewhere.example/thanks" });
        Assert.Contains("is no page of this site", $"{refused.Body}", StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_page_says_the_same_of_an_address_that_is_known()
    {
        var prompt = await AskAsync(ByMail(new Reward(RewardKind.Code, "KILN-20", null, false)));
        var address = Address();
        var (_, first) = await YesAsync(new Browser(desk), prompt, new { email = address });
        var link = await LinkAsync(address, "confirm", "Please confirm");
        await OpenAsync(link, press: true);
        var another = new Browser(desk);
        await another.PlanAsync(prompt.Path);
        // Nor by how long it takes: what is found is found before either is answered.
        var began = System.Diagnostics.Stopwatch.GetTimestamp();
        var (status, again) = await YesAsync(another, prompt, new { email = address.ToUpperInvariant() });
        Assert.True(System.Diagnostics.Stopwatch.GetElapsedTime(began) >= TakeYes.AnswersAfter);
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal($"{first}".ToLowerInvariant(), $"{again}".ToLowerInvariant());
        await using var db = desk.Database.Open();
        Assert.Equal(1, await db.Leads.CountAsync(l => l.EmailKey == address, Stop));
        Assert.Equal(
            2,
            await db.LeadYeses.CountAsync(y => db.Leads.Any(l => l.Id == y.LeadId && l.EmailKey == address), Stop)
        );
    }

    [Fact]
    public async Task Whoever_takes_it_back_is_not_written_to_again_by_the_button_of_the_mail_program_as_well()
    {
        var prompt = await AskAsync(ByMail(new Reward(RewardKind.Code, "KILN-30", null, false)));
        var (browser, address) = (new Browser(desk), Address());
        await YesAsync(browser, prompt, new { email = address });
        await OpenAsync(await LinkAsync(address, "confirm", "Please confirm"), press: true);
        var leave = await LinkAsync(address, "leave", "Here is what is yours");
        await OpenAsync(leave);
        Assert.Equal(LeadState.Confirmed, (await LeadAsync(address)).State);
        using (var client = desk.Anonymous())
        {
            using var oneClick = new FormUrlEncodedContent([new("List-Unsubscribe", "One-Click")]);
            using var answer = await client.PostAsync(leave, oneClick, Stop);
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        }
        Assert.Equal(LeadState.Withdrawn, (await LeadAsync(address)).State);
        // The same promise again: the same thanks, and nothing is sent.
        var (status, body) = await YesAsync(new Browser(desk), prompt, new { email = address });
        Assert.Equal((HttpStatusCode.OK, "v•••••@•••••.net"), (status, body.Text("wrote")));
        Assert.Equal(LeadState.Withdrawn, (await LeadAsync(address)).State);
        await using var db = desk.Database.Open();
        Assert.Equal(0, await db.Letters.CountAsync(l => l.To == address, Stop));
        Assert.Equal(
            1,
            await db.LeadYeses.CountAsync(
                y => y.AskedAt.Count > 0 && db.Leads.Any(l => l.Id == y.LeadId && l.EmailKey == address),
                Stop
            )
        );
        // A link of one act opens no other.
        Assert.Equal(
            HttpStatusCode.Gone,
            (await OpenAsync(leave.Replace("/leave/", "/confirm/", StringComparison.Ordinal), press: true)).Status
        );
        Assert.Equal(HttpStatusCode.Gone, (await OpenAsync(leave[..^3] + "abc", press: true)).Status);
    }

    [Fact]
    public async Task Whoever_took_it_back_is_asked_no_more_by_those_words_and_is_by_others()
    {
        var same = await AskAsync(ByMail());
        var other = await AskAsync(
            ByMail() with
            {
                Words = [ByMail().Words[0] with { Promise = $"Kiln news only, {Guid.NewGuid():N}." }],
            }
        );
        var (browser, address) = (new Browser(desk), Address());
        await YesAsync(browser, same, new { email = address });
        var lead = await LeadAsync(address);
        async Task<string?> WhyNotAsync((Guid Id, string Path) prompt)
        {
            var site = desk.Services.GetRequiredService<LiveSites>().GetById(desk.World.Site.Id);
            var plan = await browser.PlanAsync(prompt.Path);
            return Browser.Cues(plan).Contains(prompt.Id) ? null
                : site.Asked.Of(browser.Visitor).HasGiven ? "given"
                : "took back";
        }
        Assert.Equal(("given", "given"), (await WhyNotAsync(same), await WhyNotAsync(other)));
        // What still waited for them goes nowhere, whatever it tells of.
        await using (var db = desk.Database.Open())
        {
            var letter = new LetterRow
            {
                WorkspaceId = lead.WorkspaceId,
                SiteId = desk.World.Site.Id,
                To = "+447700900199",
                IsText = true,
                LeadId = lead.Id,
                About = $"waits {lead.Id}",
                Subject = "",
                Text = "Later",
                MadeAt = SystemClock.Instance.GetCurrentInstant(),
                NextAt = SystemClock.Instance.GetCurrentInstant() + Duration.FromHours(1),
            };
            db.Letters.Add(letter);
            db.LeadMails.Add(LeadMailRow.Of(letter, lead.Id));
            await db.SaveChangesAsync(Stop);
        }
        var owner = await desk.OwnerAsync();
        await owner.PostAsync($"{Leads}/{lead.Id}/withdraw");
        await using (var db = desk.Database.Open())
            Assert.Equal(0, await db.Letters.CountAsync(l => l.LeadId == lead.Id, Stop));
        Assert.Equal("notSent", (await owner.GetAsync($"{Leads}/{lead.Id}")).GetProperty("mails")[0].Text("state"));
        Assert.Equal(("took back", null), (await WhyNotAsync(same), await WhyNotAsync(other)));
        // Memory that is read anew says the same, and whoever is erased is nobody who answered.
        await desk.Services.GetRequiredService<LiveSites>().ReloadAsync(desk.World.Site.Id, Stop);
        Assert.Equal(("took back", null), (await WhyNotAsync(same), await WhyNotAsync(other)));
        await owner.SendAsync(HttpMethod.Delete, $"{Leads}/{lead.Id}");
        Assert.Null(await WhyNotAsync(same));
    }

    [Fact]
    public async Task Of_two_hundred_who_confirm_at_once_each_has_a_code_of_their_own_and_the_last_find_none()
    {
        const int People = 200;
        const int Codes = 190;
        var owner = await desk.OwnerAsync();
        var (added, pool) = await owner.PostAsync(
            $"/api/sites/{desk.World.Site.Id}/rewards/codes",
            new
            {
                name = $"Pool {Guid.NewGuid():N}"[..30],
                codes = "code\r\n"
                    + string.Join("\r\n", Enumerable.Range(0, Codes).Select(i => $"P{i:000}").Append("P001")),
            }
        );
        Assert.True(added == HttpStatusCode.OK, $"{pool}");
        Assert.Equal((Codes, 1), (pool.GetProperty("added").GetInt32(), pool.GetProperty("known").GetInt32()));
        var poolId = pool.GetProperty("pool").GetProperty("id").GetGuid();
        var prompt = await AskAsync(ByMail(new Reward(RewardKind.Pool, "", poolId, AwayWhenEmpty: true)));
        var site = desk.Services.GetRequiredService<Sites.LiveSites>().GetById(desk.World.Site.Id);
        var book = desk.Services.GetRequiredService<LeadBook>();
        var yeses = new List<Guid>();
        await using (var db = desk.Database.Open())
        {
            for (var i = 0; i < People; i++)
            {
                var lead = new LeadRow
                {
                    WorkspaceId = site.WorkspaceId,
                    Sites = [site.Id],
                    Email = Address("p"),
                    Life = LeadLife.Begin(null, confirms: true, SystemClock.Instance.GetCurrentInstant()),
                    Language = "en",
                };
                lead.EmailKey = lead.Email;
                var yes = new LeadYesRow
                {
                    Id = Guid.CreateVersion7(),
                    WorkspaceId = site.WorkspaceId,
                    SiteId = site.Id,
                    LeadId = lead.Id,
                    CalloutId = prompt.Id,
                    Revision = 1,
                    Name = "Pool",
                    Language = "en",
                    Page = "http://pots.test/",
                    VisitorId = $"pool{i}",
                };
                db.Leads.Add(lead);
                db.LeadYeses.Add(yes);
                yeses.Add(yes.Id);
            }
            await db.SaveChangesAsync(Stop);
        }
        // Each presses twice, as impatient people do.
        await Parallel.ForEachAsync(
            yeses.Concat(yeses),
            new ParallelOptions { MaxDegreeOfParallelism = 32, CancellationToken = Stop },
            async (id, stop) => Assert.NotNull(await book.ConfirmAsync(site, id, "http://desk.test", stop))
        );
        await using var after = desk.Database.Open();
        var given = await after.LeadYeses.Where(y => yeses.Contains(y.Id)).Select(y => y.Code).ToListAsync(Stop);
        Assert.Equal(Codes, given.Count(c => c.Length > 0));
        Assert.Equal(Codes, given.Where(c => c.Length > 0).Distinct().Count());
        Assert.Equal(0, await after.Codes.CountAsync(c => c.PoolId == poolId && c.YesId == null, Stop));
        // Nothing is promised that cannot be given.
        Assert.DoesNotContain(prompt.Id, Browser.Cues(await new Browser(desk).PlanAsync(prompt.Path)));
        await Mails.ToAsync(desk, "marta@", "codes are left");
        var (refused, why) = await owner.SendAsync(
            HttpMethod.Delete,
            $"/api/sites/{desk.World.Site.Id}/rewards/codes/{poolId}"
        );
        Assert.True(refused == HttpStatusCode.Conflict, $"{why}");
    }

    [Fact]
    public async Task The_mail_goes_again_three_times_an_hour_at_most_and_only_for_the_browser_that_asked()
    {
        var prompt = await AskAsync(ByMail());
        var (browser, address, id) = (new Browser(desk), Address(), Guid.CreateVersion7());
        await YesAsync(browser, prompt, new { email = address }, id: id);
        async Task AgainAsync(Browser who)
        {
            if (who.Passport is null)
                await who.PlanAsync(prompt.Path);
            using var answer = await who.SendAsync(
                "/v/asks/again",
                new
                {
                    site = desk.World.Site.Key,
                    page = TestDesk.SiteOrigin + prompt.Path,
                    passport = who.Passport,
                    id,
                },
                TestDesk.SiteOrigin
            );
            Assert.Equal(HttpStatusCode.NoContent, answer.StatusCode);
        }
        await AgainAsync(new Browser(desk));
        for (var i = 0; i < 5; i++)
            await AgainAsync(browser);
        await using var db = desk.Database.Open();
        Assert.Equal(LeadLife.MostAsksAnHour, (await db.LeadYeses.SingleAsync(y => y.Id == id, Stop)).AskedAt.Count);
    }

    [Fact]
    public async Task What_a_stranger_makes_up_is_refused_in_words_and_nothing_is_kept()
    {
        var prompt = await AskAsync(ByMail());
        var browser = new Browser(desk);
        var (status, body) = await YesAsync(browser, prompt, new { email = "no address" }, agreed: false);
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.Equal(
            ["email", "promise"],
            body.GetProperty("faults").EnumerateObject().Select(f => f.Name).Order(StringComparer.Ordinal)
        );
        foreach (
            var (fields, field) in new (object, string)[]
            {
                (new { email = "a@b.example\r\nBcc: all@b.example" }, "email"),
                (new { email = "Noor <noor@post.example>" }, "email"),
                (new { email = new string('a', 40_000) + "@post.example" }, "email"),
            }
        )
            Assert.True(
                (await YesAsync(browser, prompt, fields)).Body.GetProperty("faults").TryGetProperty(field, out _)
            );
        var many = Enumerable.Range(0, 200).ToDictionary(i => $"f{i}", _ => "x");
        Assert.Equal(HttpStatusCode.BadRequest, (await YesAsync(browser, prompt, many)).Status);
        Assert.Equal(
            HttpStatusCode.RequestEntityTooLarge,
            (await YesAsync(browser, prompt, new { email = new string('a', 5_000_000) })).Status
        );
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await YesAsync(browser, prompt, new { email = Address() }, id: Guid.Empty)).Status
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await YesAsync(browser, (Guid.NewGuid(), prompt.Path), new { email = Address() })).Status
        );
        await using var db = desk.Database.Open();
        Assert.Equal(0, await db.LeadYeses.CountAsync(y => y.CalloutId == prompt.Id, Stop));
    }

    [Fact]
    public async Task Without_a_confirmation_what_is_promised_is_theirs_at_once_and_a_number_is_one_person()
    {
        var ask = new AskFacet(
            [new PromptField(Guid.NewGuid(), FieldKind.Phone, "phone", true, [])],
            [],
            [new AskWords("", "Tell me", "One message.", "", "Thank you", "", "")],
            Ticks: false,
            Confirms: false,
            new Reward(RewardKind.Code, "AT-ONCE", null, false),
            []
        );
        var prompt = await AskAsync(ask);
        var (_, body) = await YesAsync(new Browser(desk), prompt, new { phone = "07460 123 987" }, agreed: false);
        Assert.Equal("AT-ONCE", body.Text("code"));
        var (again, second) = (new Browser(desk), Guid.CreateVersion7());
        await YesAsync(again, prompt, new { phone = "+44 7460 123987" }, agreed: false, second);
        // Sent again it is answered again; from another browser the same id opens nothing.
        var (_, same) = await YesAsync(again, prompt, new { phone = "+44 7460 123987" }, agreed: false, second);
        Assert.Equal("AT-ONCE", same.Text("code"));
        var (status, stranger) = await YesAsync(
            new Browser(desk),
            prompt,
            new { phone = "+44 7460 123988" },
            agreed: false,
            second
        );
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.False(stranger.TryGetProperty("code", out _));
        await using var db = desk.Database.Open();
        var lead = await db.Leads.SingleAsync(l => l.Phone == "+447460123987", Stop);
        Assert.Equal((LeadState.Confirmed, 2), (lead.State, lead.Visitors.Count));
    }

    [Fact]
    public async Task A_prompt_gives_no_codes_of_another_workspace()
    {
        var pool = new CodePoolRow
        {
            WorkspaceId = Guid.NewGuid(),
            SiteId = Guid.NewGuid(),
            Name = "Of somebody else",
            ChangedBy = "Somebody",
        };
        await using (var db = desk.Database.Open())
        {
            db.CodePools.Add(pool);
            db.Codes.Add(
                new CodeRow
                {
                    PoolId = pool.Id,
                    Code = "NOT-YOURS",
                    WorkspaceId = pool.WorkspaceId,
                }
            );
            await db.SaveChangesAsync(Stop);
        }
        var ask = ByMail(new Reward(RewardKind.Pool, "", pool.Id, AwayWhenEmpty: false)) with { Confirms = false };
        var prompt = await AskAsync(ask);
        var (status, body) = await YesAsync(new Browser(desk), prompt, new { email = Address() });
        Assert.Equal(HttpStatusCode.OK, status);
        Assert.DoesNotContain("NOT-YOURS", $"{body}", StringComparison.Ordinal);
        await using var after = desk.Database.Open();
        Assert.Equal(1, await after.Codes.CountAsync(c => c.PoolId == pool.Id && c.YesId == null, Stop));
    }

    [Fact]
    public async Task The_table_finds_filters_tags_and_leaves_as_csv_and_cards_that_harm_nobody()
    {
        var prompt = await AskAsync(ByMail());
        var address = Address("table");
        await YesAsync(new Browser(desk), prompt, new { email = address, first_name = "=HYPERLINK(\"x\")" });
        var member = await DeskClient.SignInAsync(desk.Anonymous(), (await desk.AddMemberAsync(Role.Responder)).Email!);
        var page = await member.GetAsync($"{Leads}?words={address}&state=waiting&callout={prompt.Id}");
        var lead = Assert.Single(page.GetProperty("leads").EnumerateArray());
        Assert.Equal("waiting", lead.Text("state"));
        Assert.Empty(
            (await member.GetAsync($"{Leads}?words={address}&state=confirmed")).GetProperty("leads").EnumerateArray()
        );
        var id = lead.GetProperty("id").GetGuid();
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await member.PostAsync($"{Leads}/tags", new { leads = new[] { id }, tag = "kiln" })).Status
        );
        Assert.Single(
            (await member.GetAsync($"{Leads}?tag=kiln&words={address}")).GetProperty("leads").EnumerateArray()
        );
        var csv = await member.Http.GetStringAsync(
            $"{Leads}/export.csv?words={address}&columns=email,first_name,answers.email,tags",
            Stop
        );
        var row = csv.Split("\r\n")[1];
        Assert.StartsWith($"{address},", row, StringComparison.Ordinal);
        Assert.DoesNotContain(",=", row, StringComparison.Ordinal);
        Assert.DoesNotContain(",\"=", row, StringComparison.Ordinal);
        var cards = await member.Http.GetStringAsync($"{Leads}/export.vcf?words={address}", Stop);
        Assert.StartsWith("BEGIN:VCARD\r\nVERSION:4.0\r\n", cards, StringComparison.Ordinal);
        Assert.All(cards.Split("\r\n"), line => Assert.True(System.Text.Encoding.UTF8.GetByteCount(line) <= 75));
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await member.SendAsync(HttpMethod.Get, $"{Leads}/export.csv?columns=secret")).Status
        );
        var detail = await member.GetAsync($"{Leads}/{id}");
        Assert.Equal(
            "One letter a month.",
            Assert.Single(detail.GetProperty("yeses").EnumerateArray()).Text("promise")
        );
        // Who may not answer sees nobody; only an owner erases.
        var editor = await DeskClient.SignInAsync(desk.Anonymous(), (await desk.AddMemberAsync(Role.Editor)).Email!);
        Assert.Equal(HttpStatusCode.Forbidden, (await editor.SendAsync(HttpMethod.Get, Leads)).Status);
        Assert.Equal(HttpStatusCode.Forbidden, (await member.SendAsync(HttpMethod.Delete, $"{Leads}/{id}")).Status);
        var owner = await desk.OwnerAsync();
        var (found, held) = await owner.PostAsync(
            $"/api/sites/{desk.World.Site.Id}/people/find",
            new { email = address }
        );
        Assert.Equal(HttpStatusCode.OK, found);
        Assert.Contains("said yes", $"{held}", StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NoContent, (await owner.SendAsync(HttpMethod.Delete, $"{Leads}/{id}")).Status);
        Assert.Equal(HttpStatusCode.NotFound, (await owner.SendAsync(HttpMethod.Get, $"{Leads}/{id}")).Status);
    }

    [Fact]
    public async Task What_became_of_those_asked_is_counted_from_who_saw_it()
    {
        var prompt = await AskAsync(ByMail());
        var browser = new Browser(desk);
        await YesAsync(browser, prompt, new { email = Address() });
        var owner = await desk.OwnerAsync();
        var asked = await owner.GetAsync($"/api/sites/{desk.World.Site.Id}/callouts/{prompt.Id}/asked");
        Assert.Equal((1, 0), (asked.GetProperty("gave").GetInt32(), asked.GetProperty("confirmed").GetInt32()));
        Assert.Equal(JsonValueKind.Null, asked.GetProperty("rate").ValueKind);
    }

    /// <summary>A receiver on loopback that answers as it is told.</summary>
    private sealed class Receiver : IAsyncDisposable
    {
        private readonly WebApplication _app;
        public List<(IReadOnlyDictionary<string, string> Headers, string Body)> Got { get; } = [];
        public int Answers { get; set; } = 204;
        public string Address { get; }

        public Receiver()
        {
            var builder = WebApplication.CreateSlimBuilder();
            builder.Logging.ClearProviders();
            builder.WebHost.UseUrls("http://127.0.0.1:0");
            _app = builder.Build();
            _app.MapPost(
                "/hook",
                async (HttpContext http) =>
                {
                    using var reader = new StreamReader(http.Request.Body);
                    var body = await reader.ReadToEndAsync(http.RequestAborted);
                    lock (Got)
                        Got.Add(
                            (http.Request.Headers.ToDictionary(h => h.Key.ToLowerInvariant(), h => $"{h.Value}"), body)
                        );
                    if (Answers == 302)
                        http.Response.Headers.Location = "/elsewhere";
                    return Results.StatusCode(Answers);
                }
            );
            _app.StartAsync().GetAwaiter().GetResult();
            Address = _app.Urls.Single() + "/hook";
        }

        public ValueTask DisposeAsync() => _app.DisposeAsync();
    }

    private HookRound Round(string allowed) =>
        new(
            desk.Services.GetRequiredService<Platform.SystemDb>(),
            new Platform.SafeFetch(
                new Microsoft.Extensions.Configuration.ConfigurationBuilder()
                    .AddInMemoryCollection([new("Fetch:AllowedPrivateHosts", allowed)])
                    .Build()
            ),
            desk.Services.GetRequiredService<Platform.LoopWatch>(),
            SystemClock.Instance
        );

    private async Task<(Guid Id, string Secret)> HookAsync(DeskClient owner, string address)
    {
        var (status, body) = await owner.PostAsync(
            $"/api/sites/{desk.World.Site.Id}/webhooks",
            new
            {
                name = "Letters",
                address,
                words = new[] { "new", "confirmed", "withdrawn" },
            }
        );
        Assert.True(status == HttpStatusCode.OK, $"{body}");
        return (body.GetProperty("id").GetGuid(), body.Text("secret"));
    }

    private async Task DueNowAsync(Guid hook)
    {
        await using var db = desk.Database.Open();
        var now = SystemClock.Instance.GetCurrentInstant() - Duration.FromSeconds(1);
        await db
            .WebhookMessages.Where(m => m.WebhookId == hook && m.NextAt != null)
            .ExecuteUpdateAsync(u => u.SetProperty(m => m.NextAt, now), Stop);
    }

    private async Task<WebhookMessageRow> MessageAsync(Guid hook)
    {
        await using var db = desk.Database.Open();
        return await db
            .WebhookMessages.AsNoTracking()
            .OrderByDescending(m => m.MadeAt)
            .FirstAsync(m => m.WebhookId == hook, Stop);
    }

    [Fact]
    public async Task What_webhooks_are_told_verifies_by_the_standards_own_library_and_is_told_until_it_is_taken()
    {
        await using var receiver = new Receiver();
        var owner = await desk.OwnerAsync();
        var (hook, secret) = await HookAsync(owner, receiver.Address);
        var round = Round(new Uri(receiver.Address).Authority);
        await owner.PostAsync($"/api/sites/{desk.World.Site.Id}/webhooks/{hook}/test");
        // The desk's own round may be quicker, and is not allowed to reach this machine.
        receiver.Answers = 500;
        await DueNowAsync(hook);
        await round.SendDueAsync(Stop);
        Assert.Equal(500, (await MessageAsync(hook)).Status);
        receiver.Answers = 204;
        await DueNowAsync(hook);
        await round.SendDueAsync(Stop);
        var message = await MessageAsync(hook);
        Assert.NotNull(message.TakenAt);
        Assert.Null(message.NextAt);
        Assert.Equal(2, receiver.Got.Count);
        foreach (var (headers, body) in receiver.Got)
        {
            var held = new HeaderDictionary();
            foreach (var (name, value) in headers.Where(h => h.Key.StartsWith("webhook-", StringComparison.Ordinal)))
                held.Append(name, value);
            new published::StandardWebhooks.StandardWebhook(secret).Verify(body, held);
            Assert.Equal("lead.new", JsonSerializer.Deserialize<JsonElement>(body).Text("type"));
        }
        // The same message again has the same id: whoever has it knows it.
        Assert.Equal(
            HttpStatusCode.NoContent,
            (
                await owner.PostAsync($"/api/sites/{desk.World.Site.Id}/webhooks/{hook}/messages/{message.Id}/again")
            ).Status
        );
        await DueNowAsync(hook);
        await round.SendDueAsync(Stop);
        Assert.Single(receiver.Got.Select(g => g.Headers["webhook-id"]).Distinct());
        Assert.Equal(3, receiver.Got.Count);
        // Sent on, it is not followed; 410 ends it.
        receiver.Answers = 302;
        await owner.PostAsync($"/api/sites/{desk.World.Site.Id}/webhooks/{hook}/test");
        await DueNowAsync(hook);
        await round.SendDueAsync(Stop);
        Assert.Equal(302, (await MessageAsync(hook)).Status);
        receiver.Answers = 410;
        await DueNowAsync(hook);
        await round.SendDueAsync(Stop);
        var listed = (await owner.GetAsync($"/api/sites/{desk.World.Site.Id}/webhooks"))
            .EnumerateArray()
            .Single(w => w.GetProperty("id").GetGuid() == hook);
        Assert.NotEmpty(listed.Text("offBecause"));
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await owner.SendAsync(HttpMethod.Delete, $"/api/sites/{desk.World.Site.Id}/webhooks/{hook}")).Status
        );
    }

    [Fact]
    public async Task A_webhook_is_told_of_each_change_once_it_is_committed_and_nothing_inside_the_network_is_reached()
    {
        await using var receiver = new Receiver();
        var owner = await desk.OwnerAsync();
        var (hook, _) = await HookAsync(owner, receiver.Address);
        var prompt = await AskAsync(ByMail());
        var (browser, address) = (new Browser(desk), Address("hook"));
        await YesAsync(browser, prompt, new { email = address });
        await OpenAsync(await LinkAsync(address, "confirm", "Please confirm"), press: true);
        var lead = await LeadAsync(address);
        await owner.PostAsync($"{Leads}/{lead.Id}/withdraw");
        await owner.PostAsync($"{Leads}/{lead.Id}/withdraw");
        await using (var db = desk.Database.Open())
        {
            var told = await db
                .WebhookMessages.Where(m => m.WebhookId == hook && m.Body.Contains(address))
                .OrderBy(m => m.MadeAt)
                .Select(m => m.Word)
                .ToListAsync(Stop);
            Assert.Equal([LeadWord.New, LeadWord.Confirmed, LeadWord.Withdrawn], told);
        }
        await DueNowAsync(hook);
        await Round("").SendDueAsync(Stop);
        Assert.Empty(receiver.Got);
        Assert.Contains("private network", (await MessageAsync(hook)).Says, StringComparison.Ordinal);
        foreach (
            var odd in new[]
            {
                "ftp://files.example/",
                "http://post.example/hook",
                "https://a:b@post.example/",
                "no address",
                "",
            }
        )
        {
            var (refused, why) = await owner.PostAsync(
                $"/api/sites/{desk.World.Site.Id}/webhooks",
                new
                {
                    name = "Odd",
                    address = odd,
                    words = new[] { "new" },
                }
            );
            Assert.Equal((HttpStatusCode.BadRequest, "address"), (refused, why.Text("field")));
        }
        var editor = await DeskClient.SignInAsync(desk.Anonymous(), (await desk.AddMemberAsync(Role.Editor)).Email!);
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await editor.SendAsync(HttpMethod.Get, $"/api/sites/{desk.World.Site.Id}/webhooks")).Status
        );
        await owner.SendAsync(HttpMethod.Delete, $"/api/sites/{desk.World.Site.Id}/webhooks/{hook}");
    }
}
