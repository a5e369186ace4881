using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Following;
using Outcry.Server.Leads;
using Outcry.Server.Sites;
using Outcry.Standins.Outside;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>Follow-ups at the server: who comes in, what is written, whom they leave alone, what breaks off and goes on.</summary>
public sealed class FollowUpTests(TestDesk desk) : IClassFixture<TestDesk>
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    private string Api => $"/api/sites/{desk.World.Site.Id}/followups";

    private static FollowStep Wait(int minutes) => new(Guid.CreateVersion7(), FollowKind.Wait, minutes, [], "", "");

    private static FollowStep Mail(string subject) =>
        new(
            Guid.CreateVersion7(),
            FollowKind.Mail,
            0,
            [new FollowWords("", subject, "Hello {{ first_name | default: \"there\" }}.\n\nMore soon.", "Look")],
            "https://emberwick.example/shop",
            ""
        );

    private static FollowStep Tag(string tag) => new(Guid.CreateVersion7(), FollowKind.Tag, 0, [], "", tag);

    private static FollowUp After(string tag, params FollowStep[] steps) =>
        new(FollowsAfter.Tag, null, tag, steps, [], null, EndsWithTalk: true);

    private static string NewTag() => $"t{Guid.NewGuid():N}"[..12];

    private async Task<Guid> PublishAsync(FollowUp follow)
    {
        var owner = await desk.OwnerAsync();
        var (_, made) = await owner.PostAsync(Api);
        var id = made.GetProperty("id").GetGuid();
        var (saved, draft) = await owner.SendAsync(
            HttpMethod.Put,
            $"{Api}/{id}/draft",
            new
            {
                name = $"After {id:N}",
                content = JsonSerializer.SerializeToElement(follow, JsonColumn.Options),
                version = 1,
            }
        );
        Assert.True(saved == HttpStatusCode.OK, $"{draft}");
        var (status, body) = await owner.PostAsync($"{Api}/{id}/publish", new { version = 2 });
        Assert.True(status == HttpStatusCode.OK, $"{body}");
        var sites = desk.Services.GetRequiredService<LiveSites>();
        await Eventually.GetAsync(
            () => Task.FromResult(sites.GetById(desk.World.Site.Id).Compiled.ContainsKey(id)),
            there => there
        );
        return id;
    }

    private async Task<LeadRow> AddLeadAsync(
        LeadState state = LeadState.Confirmed,
        string begins = "v",
        string? phone = null,
        string zone = ""
    )
    {
        await using var db = desk.Database.Open();
        var email = phone is null ? $"{begins}{Guid.NewGuid():N}"[..16] + "@reader.net" : null;
        var lead = new LeadRow
        {
            WorkspaceId = desk.World.Site.WorkspaceId,
            Sites = [desk.World.Site.Id],
            Email = email,
            EmailKey = email,
            Phone = phone,
            Zone = zone,
            FirstName = "Mira",
            State = state,
            GaveAt = SystemClock.Instance.GetCurrentInstant(),
            Visitors = [Guid.CreateVersion7().ToString("N")],
            Language = "en",
        };
        db.Leads.Add(lead);
        await db.SaveChangesAsync(Stop);
        return lead;
    }

    private async Task GiveTagAsync(string tag, params LeadRow[] leads)
    {
        var (status, body) = await (await desk.OwnerAsync()).PostAsync(
            $"/api/sites/{desk.World.Site.Id}/leads/tags",
            new { leads = leads.Select(l => l.Id), tag }
        );
        Assert.True(status == HttpStatusCode.NoContent, $"{body}");
    }

    private FollowRound Round => desk.Services.GetRequiredService<FollowRound>();

    private async Task<FollowRunRow?> RunOfAsync(Guid follow, LeadRow lead)
    {
        await using var db = desk.Database.Open();
        return await db
            .FollowRuns.AsNoTracking()
            .SingleOrDefaultAsync(r => r.FollowUpId == follow && r.LeadId == lead.Id, Stop);
    }

    // As if so long had passed for whoever is in it.
    private async Task PassAsync(LeadRow lead, Duration time)
    {
        await using var db = desk.Database.Open();
        foreach (var run in await db.FollowRuns.AsTracking().Where(r => r.LeadId == lead.Id).ToListAsync(Stop))
            (run.Since, run.DueAt) = (run.Since - time, run.DueAt - time);
        var row = await db.Leads.AsTracking().SingleAsync(l => l.Id == lead.Id, Stop);
        row.FollowedAt -= time;
        await db.SaveChangesAsync(Stop);
    }

    // What lies here goes out within seconds; while it does it stands at both ends.
    private async Task<int> MailsAsync(LeadRow lead)
    {
        await Eventually.GetAsync(
            async () =>
            {
                await using var db = desk.Database.Open();
                return await db.Letters.CountAsync(l => l.To == lead.Email, Stop);
            },
            left => left == 0
        );
        using var outside = new HttpClient();
        return JsonSerializer
            .Deserialize<JsonElement>(await outside.GetStringAsync($"{desk.Outside}/mailbox.json", Stop))
            .EnumerateArray()
            .Count(m => m.Text("to").Contains(lead.Email!, StringComparison.Ordinal));
    }

    [Fact]
    public async Task Whoever_is_given_the_tag_gets_each_mail_once_with_a_way_out_of_it()
    {
        var tag = NewTag();
        var warm = NewTag();
        var id = await PublishAsync(After(tag, Mail("First"), Wait(2 * 1_440), Mail("Second"), Tag(warm)));
        var lead = await AddLeadAsync();
        await GiveTagAsync(tag, lead);
        // Given twice, they come in once; two rounds at once write once.
        await GiveTagAsync(tag, lead);
        await Task.WhenAll(Round.RunAsync(Stop), Round.RunAsync(Stop));
        var mail = await Mails.ToAsync(desk, lead.Email!, "First");
        Assert.Contains("Hello Mira.", mail, StringComparison.Ordinal);
        Assert.Contains("https://emberwick.example/shop", mail, StringComparison.Ordinal);
        Assert.Contains("/o/leave/", mail, StringComparison.Ordinal);
        Assert.Equal(1, await MailsAsync(lead));
        await PassAsync(lead, Duration.FromDays(2));
        await Round.RunAsync(Stop);
        await Mails.ToAsync(desk, lead.Email!, "Second");
        var run = await RunOfAsync(id, lead);
        Assert.Equal((FollowEnd.Through, 4, (Instant?)null), (run!.End, run.At, run.DueAt));
        await using var db = desk.Database.Open();
        Assert.Contains(warm, (await db.Leads.SingleAsync(l => l.Id == lead.Id, Stop)).Tags);
        var figures = await (await desk.OwnerAsync()).GetAsync($"{Api}/{id}/figures");
        Assert.Equal((1, 0), (figures.GetProperty("came").GetInt32(), figures.GetProperty("inside").GetInt32()));
        Assert.Equal(1, figures.GetProperty("ended").GetProperty("through").GetInt32());
    }

    [Fact]
    public async Task Whoever_took_it_back_or_has_not_confirmed_gets_nothing()
    {
        var tag = NewTag();
        var id = await PublishAsync(After(tag, Wait(60), Mail("Never")));
        var (waits, leaves) = (await AddLeadAsync(LeadState.Waiting), await AddLeadAsync());
        await GiveTagAsync(tag, waits, leaves);
        Assert.Null(await RunOfAsync(id, waits));
        await Round.RunAsync(Stop);
        await (await desk.OwnerAsync()).PostAsync($"/api/sites/{desk.World.Site.Id}/leads/{leaves.Id}/withdraw");
        await PassAsync(leaves, Duration.FromHours(2));
        await Round.RunAsync(Stop);
        Assert.Equal(FollowEnd.Withdrew, (await RunOfAsync(id, leaves))!.End);
        Assert.Equal(0, await MailsAsync(leaves));
    }

    [Fact]
    public async Task A_mail_is_sent_to_whoever_wrote_it_and_only_once_it_has_words()
    {
        var editor = await desk.AddMemberAsync(Core.Access.Role.Editor);
        var client = await DeskClient.SignInAsync(desk.Anonymous(), editor.Email!);
        async Task<(HttpStatusCode Status, JsonElement Body)> SendAsync(FollowStep step) =>
            await client.PostAsync(
                $"{Api}/test-mail",
                new { step = JsonSerializer.SerializeToElement(step, JsonColumn.Options), language = "" }
            );
        var (status, body) = await SendAsync(Mail("To see it"));
        Assert.True(status == HttpStatusCode.OK, $"{body}");
        Assert.Equal(editor.Email, body.Text("to"));
        var mail = await Mails.ToAsync(desk, editor.Email!, "To see it");
        Assert.Contains("A try, sent to nobody but you.", mail, StringComparison.Ordinal);
        Assert.DoesNotContain("/o/leave/", mail, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.BadRequest, (await SendAsync(Mail(" "))).Status);
        Assert.Equal(HttpStatusCode.BadRequest, (await SendAsync(Wait(5))).Status);
    }

    [Fact]
    public async Task Two_follow_ups_write_a_day_apart()
    {
        var (one, two) = (NewTag(), NewTag());
        await PublishAsync(After(one, Mail("Of one")));
        var later = await PublishAsync(After(two, Mail("Of two")));
        var lead = await AddLeadAsync();
        await GiveTagAsync(one, lead);
        await GiveTagAsync(two, lead);
        await Round.RunAsync(Stop);
        await Round.RunAsync(Stop);
        Assert.Equal(1, await MailsAsync(lead));
        await PassAsync(lead, Duration.FromHours(24));
        await Round.RunAsync(Stop);
        Assert.Equal(2, await MailsAsync(lead));
        Assert.Equal(FollowEnd.Through, (await RunOfAsync(later, lead))!.End);
    }

    [Fact]
    public async Task It_is_over_for_whoever_buys_and_for_whoever_is_erased()
    {
        var tag = NewTag();
        var follow = After(tag, Wait(60), Mail("Never")) with { GoalSourceId = desk.World.Checkout.Id };
        var id = await PublishAsync(follow);
        var (buys, goes) = (await AddLeadAsync(), await AddLeadAsync());
        await GiveTagAsync(tag, buys, goes);
        await Round.RunAsync(Stop);
        var (taken, told, _) = await new Sender(desk).SendAsync(
            Sender.Purchase($"o-{Guid.NewGuid():N}", "Mira", email: buys.Email)
        );
        Assert.True((int)taken < 300, $"{told}");
        await (await desk.OwnerAsync()).SendAsync(
            HttpMethod.Delete,
            $"/api/sites/{desk.World.Site.Id}/leads/{goes.Id}"
        );
        await PassAsync(buys, Duration.FromHours(2));
        await Round.RunAsync(Stop);
        Assert.Equal(FollowEnd.Goal, (await RunOfAsync(id, buys))!.End);
        Assert.Null(await RunOfAsync(id, goes));
        Assert.Equal(0, await MailsAsync(buys) + await MailsAsync(goes));
    }

    [Fact]
    public async Task While_it_is_paused_nothing_goes_out_and_those_inside_keep_their_revision()
    {
        var tag = NewTag();
        var follow = After(tag, Wait(60), Mail("As it was"));
        var id = await PublishAsync(follow);
        var lead = await AddLeadAsync();
        await GiveTagAsync(tag, lead);
        await Round.RunAsync(Stop);
        var owner = await desk.OwnerAsync();
        var changed = follow with
        {
            Steps = [follow.Steps[0], follow.Steps[1] with { Words = [new FollowWords("", "As it is", "x", "")] }],
        };
        await owner.SendAsync(
            HttpMethod.Put,
            $"{Api}/{id}/draft",
            new
            {
                name = "Changed",
                content = JsonSerializer.SerializeToElement(changed, JsonColumn.Options),
                version = 2,
            }
        );
        Assert.Equal(HttpStatusCode.OK, (await owner.PostAsync($"{Api}/{id}/publish", new { version = 3 })).Status);
        Assert.Equal(HttpStatusCode.OK, (await owner.PostAsync($"{Api}/{id}/pause")).Status);
        await PassAsync(lead, Duration.FromHours(2));
        await Round.RunAsync(Stop);
        Assert.Equal(0, await MailsAsync(lead));
        Assert.Equal(HttpStatusCode.OK, (await owner.PostAsync($"{Api}/{id}/resume")).Status);
        await Round.RunAsync(Stop);
        await Mails.ToAsync(desk, lead.Email!, "As it was");
        Assert.Equal(1, await MailsAsync(lead));
    }

    [Fact]
    public async Task It_is_rehearsed_as_a_calendar_and_what_is_wrong_keeps_it_off_the_air()
    {
        var owner = await desk.OwnerAsync();
        var follow = After("x", Wait(1_440), Mail("For {{ first_name }}"));
        var body = JsonSerializer.SerializeToElement(follow, JsonColumn.Options);
        var (status, calendar) = await owner.PostAsync(
            $"{Api}/rehearse",
            new
            {
                followUp = body,
                language = "en",
                firstName = "Noor",
            }
        );
        Assert.True(status == HttpStatusCode.OK, $"{calendar}");
        var gets = Assert.Single(calendar.GetProperty("gets").EnumerateArray());
        Assert.Equal("For Noor", gets.GetProperty("mail").Text("subject"));
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (
                await owner.PostAsync(
                    $"{Api}/rehearse",
                    new
                    {
                        followUp = body,
                        language = "en",
                        firstName = "",
                        comesAt = "1999-01-01T00:00:00Z",
                    }
                )
            ).Status
        );
        var (_, made) = await owner.PostAsync(Api);
        var (refused, problem) = await owner.PostAsync($"{Api}/{made.Text("id")}/publish", new { version = 1 });
        Assert.True(
            refused is HttpStatusCode.BadRequest or HttpStatusCode.Conflict or HttpStatusCode.UnprocessableEntity,
            $"{problem}"
        );
        Assert.Contains(
            (await owner.GetAsync($"{Api}/{made.Text("id")}")).GetProperty("problems").EnumerateArray(),
            p => p.Text("field") == "after"
        );
    }

    private static FollowStep Text(string text) =>
        new(Guid.CreateVersion7(), FollowKind.Text, 0, [new FollowWords("", "", text, "")], "", "");

    private static string NewNumber() => $"+4477009{Random.Shared.Next(100_000):00000}";

    private async Task<List<JsonElement>> TextsAsync(string number)
    {
        using var outside = new HttpClient();
        return
        [
            .. JsonSerializer
                .Deserialize<JsonElement>(await outside.GetStringAsync($"{desk.Outside}/phone.json", Stop))
                .EnumerateArray()
                .Where(t => t.Text("to") == number),
        ];
    }

    [Fact]
    public async Task A_text_message_goes_once_to_the_number_of_whoever_has_one_with_a_way_out_of_it()
    {
        var tag = NewTag();
        await PublishAsync(
            After(tag, Mail("For whoever has an address"), Text("Hello {{ first_name }}, \"warm\" \\ {to}"))
        );
        var (reached, number) = (await AddLeadAsync(phone: NewNumber()), "");
        number = reached.Phone!;
        var other = await AddLeadAsync();
        await GiveTagAsync(tag, reached, other);
        await Task.WhenAll(Round.RunAsync(Stop), Round.RunAsync(Stop));
        var texts = await Eventually.GetAsync(() => TextsAsync(number), t => t.Count > 0);
        var text = Assert.Single(texts).Text("text");
        // What looks like a place in the template is only what somebody wrote.
        Assert.StartsWith("Hello Mira, \"warm\" \\ {to}\nTake it back: ", text, StringComparison.Ordinal);
        var link = new Uri(text[(text.LastIndexOf(' ') + 1)..]);
        using var page = await desk.Anonymous().GetAsync(link.PathAndQuery, Stop);
        Assert.Equal(HttpStatusCode.OK, page.StatusCode);
        // Whoever has no number has the mail, and nothing waits for a number that will never be there.
        Assert.Equal(1, await MailsAsync(other));
        await PassAsync(other, Duration.FromDays(2));
        await Round.RunAsync(Stop);
        Assert.Equal(1, await MailsAsync(other));
    }

    [Fact]
    public async Task A_step_tells_the_webhook_that_it_names_and_no_other()
    {
        var hook = new WebhookRow
        {
            WorkspaceId = desk.World.Site.WorkspaceId,
            SiteId = desk.World.Site.Id,
            Name = "Pots",
            Address = "https://pots.invalid/hook",
            Secret = "whsec_" + Convert.ToBase64String(new byte[24]),
            Words = [LeadWord.Withdrawn],
            ChangedBy = "Marta Quill",
        };
        var silent = new WebhookRow
        {
            WorkspaceId = hook.WorkspaceId,
            SiteId = hook.SiteId,
            Name = "Silent",
            Address = hook.Address,
            Secret = hook.Secret,
            OffBecause = "It answered 410.",
            ChangedBy = "Marta Quill",
        };
        await using var db = desk.Database.Open();
        db.Webhooks.AddRange(hook, silent);
        await db.SaveChangesAsync(Stop);
        var tag = NewTag();
        FollowStep Tell(Guid to) => new(Guid.CreateVersion7(), FollowKind.Tell, 0, [], "", "came to the end", to);
        var (told, untold, foreign) = (Tell(hook.Id), Tell(silent.Id), Tell(Guid.CreateVersion7()));
        var id = await PublishAsync(After(tag, told, untold, foreign));
        var lead = await AddLeadAsync();
        await GiveTagAsync(tag, lead);
        await Round.RunAsync(Stop);
        var message = Assert.Single(
            await db.WebhookMessages.Where(m => m.WebhookId == hook.Id || m.WebhookId == silent.Id).ToListAsync(Stop)
        );
        var body = JsonSerializer.Deserialize<JsonElement>(message.Body);
        Assert.Equal("lead.reached", body.Text("type"));
        Assert.Equal(lead.Id, body.GetProperty("data").GetProperty("id").GetGuid());
        Assert.Equal(
            (id, told.Id, "came to the end"),
            (
                body.GetProperty("reached").GetProperty("followUp").GetGuid(),
                body.GetProperty("reached").GetProperty("step").GetGuid(),
                body.GetProperty("reached").Text("word")
            )
        );
        Assert.Equal(FollowEnd.Through, (await RunOfAsync(id, lead))!.End);
    }

    [Fact]
    public async Task Whose_mail_is_refused_for_good_cannot_be_reached_and_gets_nothing_more()
    {
        var tag = NewTag();
        var id = await PublishAsync(After(tag, Mail("First"), Wait(2 * 1_440), Mail("Second")));
        var lead = await AddLeadAsync(begins: "nobody");
        var asked = desk.Services.GetRequiredService<LiveSites>().GetById(desk.World.Site.Id).Asked;
        asked.Note(lead.Visitors[0], AskedBefore.Of(lead.State, []));
        await GiveTagAsync(tag, lead);
        await Round.RunAsync(Stop);
        await Eventually.GetAsync(
            async () =>
            {
                await using var db = desk.Database.Open();
                return (await db.Leads.SingleAsync(l => l.Id == lead.Id, Stop)).State;
            },
            state => state == LeadState.Unreachable
        );
        // Prompts know it without being read anew.
        await Eventually.GetAsync(() => Task.FromResult(asked.Of(lead.Visitors[0]).HasGiven), given => !given);
        await PassAsync(lead, Duration.FromDays(3));
        await Round.RunAsync(Stop);
        Assert.Equal(FollowEnd.Unreachable, (await RunOfAsync(id, lead))!.End);
        Assert.Equal(0, await MailsAsync(lead));
    }

    [Fact]
    public async Task What_still_waits_for_somebody_who_just_became_unreachable_is_not_sent()
    {
        var lead = await AddLeadAsync(begins: "nobody");
        var now = SystemClock.Instance.GetCurrentInstant();
        await using (var db = desk.Database.Open())
        {
            foreach (var subject in new[] { "One", "Two", "Three" })
            {
                var letter = new LetterRow
                {
                    WorkspaceId = desk.World.Site.WorkspaceId,
                    SiteId = desk.World.Site.Id,
                    To = lead.Email!,
                    LeadId = lead.Id,
                    About = $"{lead.Id}:{subject}",
                    Subject = subject,
                    Text = subject,
                    MadeAt = now,
                    NextAt = now,
                };
                db.Letters.Add(letter);
                db.LeadMails.Add(LeadMailRow.Of(letter, lead.Id));
            }
            await db.SaveChangesAsync(Stop);
        }
        var states = await Eventually.GetAsync(
            async () =>
            {
                await using var db = desk.Database.Open();
                return await db.LeadMails.Where(m => m.LeadId == lead.Id).Select(m => m.State).ToListAsync(Stop);
            },
            all => !all.Contains(SentState.Waiting)
        );
        Assert.Equal((1, 2), (states.Count(s => s == SentState.Refused), states.Count(s => s == SentState.NotSent)));
    }

    [Fact]
    public async Task Whose_mail_comes_back_later_for_good_cannot_be_reached_and_nobody_can_make_that_up()
    {
        var tag = NewTag();
        await PublishAsync(After(tag, Mail("Comes back")));
        var (lead, full, other) = (await AddLeadAsync(), await AddLeadAsync(), await AddLeadAsync());
        await GiveTagAsync(tag, lead, full);
        await Round.RunAsync(Stop);
        var (path, fullPath) = (await ReturnPathAsync(lead), await ReturnPathAsync(full));
        Assert.Equal(
            HttpStatusCode.Unauthorized,
            (await BringAsync(Mailbox.ReportOf(path, lead.Email!), "guessed")).Status
        );
        Assert.Equal(HttpStatusCode.BadRequest, (await BringAsync("Subject: Hello\r\n\r\nI am away.")).Status);
        Assert.Equal(HttpStatusCode.BadRequest, (await BringAsync("\0\u00ff{}")).Status);
        Assert.Equal(
            HttpStatusCode.RequestEntityTooLarge,
            (await BringAsync(new string('x', TakeBounce.MostBytes + 1))).Status
        );
        // A full mailbox is not gone, a rule says nothing of the address, and an address of nobody's making is nobody's.
        var forged = path.Replace(path[8..40], $"{other.Id:N}", StringComparison.Ordinal);
        foreach (
            var report in new[]
            {
                Mailbox.ReportOf(fullPath, full.Email!, "5.2.2"),
                Mailbox.ReportOf(fullPath, full.Email!, "5.7.1"),
                Mailbox.ReportOf(fullPath, full.Email!, "4.1.1"),
                Mailbox.ReportOf(forged, other.Email!),
                Mailbox.ReportOf("bounces@pots.test", other.Email!),
            }
        )
            Assert.Equal((HttpStatusCode.OK, 0), await BringAsync(report));
        Assert.Equal((HttpStatusCode.OK, 1), await BringAsync(Mailbox.ReportOf(path, lead.Email!)));
        await using var db = desk.Database.Open();
        var states = await db
            .Leads.Where(l => new[] { lead.Id, full.Id, other.Id }.Contains(l.Id))
            .ToDictionaryAsync(l => l.Id, l => l.State, Stop);
        Assert.Equal(
            (LeadState.Unreachable, LeadState.Confirmed, LeadState.Confirmed),
            (states[lead.Id], states[full.Id], states[other.Id])
        );
        var detail = await (await desk.OwnerAsync()).GetAsync($"/api/sites/{desk.World.Site.Id}/leads/{lead.Id}");
        var mail = Assert.Single(detail.GetProperty("mails").EnumerateArray());
        Assert.Equal(("Comes back", "cameBack"), (mail.Text("subject"), mail.Text("state")));
    }

    private async Task<string> ReturnPathAsync(LeadRow lead)
    {
        Assert.Equal(1, await MailsAsync(lead));
        using var outside = new HttpClient();
        return JsonSerializer
            .Deserialize<JsonElement>(await outside.GetStringAsync($"{desk.Outside}/mailbox.json", Stop))
            .EnumerateArray()
            .First(m => m.Text("to").Contains(lead.Email!, StringComparison.Ordinal))
            .Text("from");
    }

    private async Task<(HttpStatusCode Status, int Noted)> BringAsync(string mail, string key = TestDesk.BounceKey)
    {
        using var client = desk.Anonymous();
        using var request = new HttpRequestMessage(HttpMethod.Post, "/in/bounces")
        {
            Content = new StringContent(mail),
        };
        request.Headers.Authorization = new("Bearer", key);
        using var answer = await client.SendAsync(request, Stop);
        var body = await answer.JsonAsync();
        return (answer.StatusCode, body.TryGetProperty("noted", out var noted) ? noted.GetInt32() : -1);
    }

    [Fact]
    public async Task The_hours_are_those_of_whoever_reads_where_their_zone_is_known()
    {
        var there = SystemClock.Instance.GetCurrentInstant().InZone(DateTimeZoneProviders.Tzdb["Asia/Tokyo"]);
        var begins = new LocalTime(there.Hour, 0);
        var follow = After(NewTag(), Mail("In the morning")) with
        {
            // An hour of the day there; by the clock of the site it is another.
            Hours =
            [
                new Core.Timing.HoursSpan(
                    there.DayOfWeek,
                    begins,
                    there.Hour == 23 ? new LocalTime(23, 59, 59) : begins.PlusHours(1)
                ),
            ],
        };
        await PublishAsync(follow);
        var (near, far) = (await AddLeadAsync(), await AddLeadAsync(zone: "Asia/Tokyo"));
        await GiveTagAsync(follow.Tag, near, far);
        await Round.RunAsync(Stop);
        Assert.Equal((0, 1), (await MailsAsync(near), await MailsAsync(far)));
    }
}
