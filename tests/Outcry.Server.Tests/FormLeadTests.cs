using Microsoft.EntityFrameworkCore;
using Outcry.Core.Asking;

namespace Outcry.Server.Tests;

/// <summary>Leads from forms that a site has already: with the promise beside them, and only of those who agreed to it.</summary>
public sealed class FormLeadTests(TestDesk desk) : IClassFixture<TestDesk>
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    private static object Form(string key, object? promise, string? email = "mail") =>
        new
        {
            form = new
            {
                form = key,
                pages = Array.Empty<string>(),
                firstName = "name",
                lastName = (string?)null,
                email,
                product = (string?)null,
                fields = new[] { "piece" },
                promise,
            },
        };

    private static object Promise(string text = "One letter a month.", string? box = "agree", bool confirms = false) =>
        new
        {
            text,
            box,
            confirms,
            tags = new[] { "workshop" },
        };

    private async Task<Guid> ListenAsync(object? promise)
    {
        var listening = new Listening(desk, await desk.OwnerAsync());
        return (await listening.AddAsync("siteForm", "enquiry", Form($"f{Guid.NewGuid():N}", promise)))
            .GetProperty("id")
            .GetGuid();
    }

    private async Task<Browser> VisitorAsync()
    {
        var browser = new Browser(desk);
        await browser.PlanAsync();
        return browser;
    }

    private static async Task SendAsync(Browser browser, Guid source, object fields, Guid? id = null)
    {
        using var answer = await browser.TellAsync(
            [],
            new
            {
                id = id ?? Guid.CreateVersion7(),
                source,
                fields,
            }
        );
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(Stop));
    }

    private static string NewAddress() => $"v{Guid.NewGuid():N}"[..12] + "@reader.net";

    [Fact]
    public async Task Whoever_ticks_the_box_is_a_lead_with_the_very_words_and_whoever_does_not_is_an_event()
    {
        var source = await ListenAsync(Promise());
        var (agrees, refuses) = (NewAddress(), NewAddress());
        var browser = await VisitorAsync();
        var id = Guid.CreateVersion7();
        // Sent twice it is one yes.
        for (var i = 0; i < 2; i++)
            await SendAsync(
                browser,
                source,
                new
                {
                    mail = agrees.ToUpperInvariant(),
                    name = "Noor",
                    piece = "A bowl",
                    agree = "on",
                },
                id
            );
        await SendAsync(await VisitorAsync(), source, new { mail = refuses, name = "Tom" });
        await using var db = desk.Database.Open();
        var lead = await db.Leads.SingleAsync(l => l.EmailKey == agrees, Stop);
        Assert.Equal((LeadState.Confirmed, "Noor", "A bowl"), (lead.State, lead.FirstName, lead.Answers["piece"]));
        Assert.Equal(["workshop"], lead.Tags);
        var yes = await db.LeadYeses.SingleAsync(y => y.LeadId == lead.Id, Stop);
        Assert.True(yes.Ticked);
        Assert.Equal("One letter a month.", (await db.Promises.SingleAsync(p => p.Id == yes.PromiseId, Stop)).Text);
        Assert.False(await db.Leads.AnyAsync(l => l.EmailKey == refuses, Stop));
        // The ledger has both, as masked as ever, and no word of the box.
        var events = await db.Events.Where(e => e.SourceId == source).ToListAsync(Stop);
        Assert.Equal(2, events.Count);
        Assert.All(events, e => Assert.DoesNotContain("agree", e.Fields.Keys));
    }

    [Fact]
    public async Task Where_it_is_to_be_confirmed_a_mail_asks_and_nothing_counts_before()
    {
        var source = await ListenAsync(Promise(box: null, confirms: true));
        var address = NewAddress();
        await SendAsync(await VisitorAsync(), source, new { mail = address });
        await Mails.ToAsync(desk, address, "");
        await using var db = desk.Database.Open();
        Assert.Equal(LeadState.Waiting, (await db.Leads.SingleAsync(l => l.EmailKey == address, Stop)).State);
    }

    [Fact]
    public async Task What_is_no_address_makes_no_lead_and_loses_no_event()
    {
        var source = await ListenAsync(Promise(box: null));
        await SendAsync(await VisitorAsync(), source, new { mail = "call me", name = "Tom" });
        await using var db = desk.Database.Open();
        Assert.Equal(1, await db.Events.CountAsync(e => e.SourceId == source, Stop));
        Assert.False(await db.LeadYeses.AnyAsync(y => y.CalloutId == source, Stop));
    }

    [Fact]
    public async Task A_promise_has_words_and_a_field_by_which_to_write()
    {
        var listening = new Listening(desk, await desk.OwnerAsync());
        foreach (
            var (settings, field) in new[]
            {
                (Form("f1", Promise(text: " ")), "form.promise.text"),
                (Form("f1", Promise(text: new string('x', 601))), "form.promise.text"),
                (Form("f1", Promise(), email: null), "form.promise"),
                (Form("f1", Promise(box: "password")), "form.fields"),
            }
        )
        {
            var (status, body) = await listening.TryAddAsync("siteForm", "enquiry", settings);
            Assert.Equal(HttpStatusCode.BadRequest, status);
            Assert.Contains(field, $"{body}", StringComparison.Ordinal);
        }
    }
}
