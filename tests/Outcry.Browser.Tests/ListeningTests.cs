using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using OpenQA.Selenium;
using Outcry.Core.Evidence;
using Outcry.Server.Intake;
using Outcry.Tests.Shared;

namespace Outcry.Browser.Tests;

/// <summary>Every way in, set up in the browser as somebody new to it would.</summary>
[Collection("one browser at a time")]
public sealed class ListeningTests(Stage stage)
{
    private const string Sheet = "main aside:last-of-type";

    private Chromium Ledger(string more = "")
    {
        var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/ledger{more}");
        owner.See("h1");
        return owner;
    }

    private static void AddSource(Chromium owner, string sort, string? name = null)
    {
        owner.ClickText("Add a source");
        owner.ClickText(sort, "label");
        if (name is not null)
            owner.Fill("Name", name, Sheet);
    }

    [Fact]
    public async Task A_new_site_begins_empty_and_its_first_events_come_by_hand_file_and_webhook()
    {
        using var owner = Ledger();
        owner.Click("[aria-label^='Site:']");
        owner.ClickText("Add a site", "div[@role='menuitem']");
        owner.Fill("Name", "Second kiln");
        owner.Fill("Address", "https://second-kiln.example");
        owner.ClickText("Add site");
        owner.SeeText("No sources yet");
        owner.AxeFindsNothing();

        AddSource(owner, "by hand", "Kind words");
        owner.ClickText("Add source");
        owner.Fill("Who, in full", "Birgit Solheim", Sheet);
        owner.Fill("Role", "curator", Sheet);
        owner.Fill("Words", "Plain pots.", Sheet);
        owner.ClickText("Enter");
        owner.SeeText("Note that the person allowed it");
        owner.ClickText("They allowed it", "label");
        owner.ClickText("Enter");
        owner.SeeText("Plain pots. Birgit Solheim, curator");

        AddSource(owner, "file import", "Past orders");
        owner.Choose("Its events are", "purchases", Sheet);
        owner.ClickText("Add source");
        owner.SeeText("Import a file", Sheet);
        var file = Path.Combine(Path.GetTempPath(), $"orders-{Guid.NewGuid():N}.csv");
        await File.WriteAllTextAsync(
            file,
            $"Order,Date,Name,Product,Total\n1,{Ago.Days(3)},Noor Haddad,Iron bowl,£36\n2,{Ago.Days(2)},Elin Byrne,Salt jug,£58\n3,never,X,Y,£1\n"
        );
        owner.See("input[type=file]").SendKeys(file);
        owner.SeeText("Noor H. bought Iron bowl", Sheet);
        owner.SeeText("\"never\" is no time", Sheet);
        owner.ClickText("Test import");
        owner.SeeText("2 would be new", Sheet);
        owner.AxeFindsNothing();
        owner.ClickText("Import", "button[@class and normalize-space(.)='Import' and ancestor::aside]");
        owner.SeeText("3 rows read, 2 new, 1 rejected", Sheet);
        owner.SeeText("Elin B. bought Salt jug", "[role=table]");
        File.Delete(file);

        AddSource(owner, "signed webhook", "Shop platform");
        owner.ClickText("I point at its fields", "label");
        owner.Fill(
            "A sample",
            """{"ref":"9","buyer":{"full_name":"Ravi Nair"},"article":{"headline":"Celadon vase"}}""",
            Sheet
        );
        owner.SeeText("/article/headline", Sheet);
        owner.Choose("/article/headline means", "product", Sheet);
        owner.Choose("/buyer/full_name means", "first or whole name", Sheet);
        owner.Choose("/ref means", "its own id", Sheet);
        owner.SeeText("Ravi N. bought Celadon vase", Sheet);
        owner.ClickText("Add source");
        owner.SeeText("Where it is posted to", Sheet);
        owner.ClickText("Show the secret");
        var codes = owner.Wait(
            () => owner.Driver.FindElements(By.CssSelector($"{Sheet} code")) is { Count: > 1 } c ? c : null,
            "address and secret"
        );
        await PostAsync(
            codes[0].Text,
            codes[1].Text,
            """{"ref":"10","buyer":{"full_name":"Orla Gallagher"},"article":{"headline":"Moon jar"}}"""
        );
        owner.SeeText("Orla G. bought Moon jar", "[role=table]");
        owner.SeeText("taken in, 202", Sheet);
        owner.ClickText("Send a test");
        owner.SeeText("The test is in the ledger", Sheet);
        owner.SeeText("Own test", "[role=table]");
        owner.AxeFindsNothing();
        Assert.DoesNotContain(owner.Errors(), e => !e.Contains("400 (Bad Request)", StringComparison.Ordinal));
        owner.Click("[aria-label^='Site:']");
        owner.ClickText("Emberwick Pottery", "div[@role='menuitemradio']");
    }

    private static async Task PostAsync(string address, string secret, string body)
    {
        using var http = new HttpClient();
        var bytes = Encoding.UTF8.GetBytes(body);
        var seconds = DateTimeOffset.UtcNow.ToUnixTimeSeconds();
        var id = Guid.NewGuid().ToString("N");
        using var message = new HttpRequestMessage(HttpMethod.Post, address) { Content = new ByteArrayContent(bytes) };
        message.Content.Headers.ContentType = new MediaTypeHeaderValue("application/json");
        message.Headers.Add("webhook-id", id);
        message.Headers.Add("webhook-timestamp", $"{seconds}");
        message.Headers.TryAddWithoutValidation("webhook-signature", StandardWebhooks.Sign(secret, id, seconds, bytes));
        using var answer = await http.SendAsync(message);
        Assert.Equal(System.Net.HttpStatusCode.Accepted, answer.StatusCode);
    }

    [Fact]
    public async Task A_form_that_a_script_adds_and_sends_counts_once_it_went_through_and_takes_no_secret_along()
    {
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/studio");
        visitor.WaitForSnippet();
        visitor.ClickText("Gift voucher", "a");
        visitor.See("input[name=your_name]");

        using var owner = Ledger("?hours=24");
        AddSource(owner, "site form", "Vouchers");
        owner.Choose("Its events are", "enquiries", Sheet);
        // Other pages of other tests have forms without a name too.
        owner.ClickText("a form without a name on /studio/voucher", "label");
        owner.SeeText("never leaves the page", Sheet);
        owner.Choose("Your name means", "first or whole name", Sheet);
        owner.ClickText("an element shows", "label");
        owner.Fill("Element", ".sent", Sheet);
        owner.ClickText("Add source");
        owner.SeeText("What visitors can see", Sheet);
        owner.AxeFindsNothing();

        // The site refuses the first one: it does not count, however valid the browser found it.
        Send(visitor, "Refused Person", fails: true);
        visitor.SeeText("That did not work");
        await Task.Delay(1_500);
        Send(visitor, "Wren Ashworth", fails: false);
        visitor.SeeText("It is on its way");
        owner.SeeText("Wren A. sent an enquiry", "[role=table]");
        Assert.DoesNotContain("Refused", owner.See("[role=table]").Text, StringComparison.Ordinal);
        await using var db = stage.Database.Open();
        var stored = JsonSerializer.Serialize(await db.Events.Where(e => e.FirstName == "Wren").ToListAsync());
        Assert.DoesNotContain("4111", stored, StringComparison.Ordinal);
        Assert.DoesNotContain("hunter2", stored, StringComparison.Ordinal);
        Assert.Empty(visitor.Errors());
        // Another test sends the same form while nobody listens to it.
        owner.ClickText("Delete");
        owner.ClickText("Yes, delete");
        owner.Wait(
            () =>
                owner.Driver.FindElements(By.CssSelector("aside[aria-label='The chosen source']")).Count == 0
                    ? "gone"
                    : null,
            "the source's panel to be gone"
        );
    }

    private void Send(Chromium visitor, string name, bool fails)
    {
        visitor.Go($"{stage.Site}/studio/voucher");
        visitor.WaitForSnippet();
        visitor.Type("input[name=your_name]", name);
        visitor.Type("input[name=email]", $"{Guid.NewGuid():N}@post.example");
        visitor.Type("input[name=card_number]", "4111111111111111");
        visitor.Type("input[name=password]", "hunter2");
        if (fails)
            visitor.Driver.ExecuteScript(
                "const real = fetch; window.fetch = (url, o) => String(url).includes('voucher') ? Promise.resolve(new Response('', { status: 500 })) : real(url, o);"
            );
        visitor.ClickText("Send the voucher");
    }

    [Fact]
    public async Task A_form_counts_by_its_thank_you_page_and_route_changes_count_once_each()
    {
        // A prompt would lie over the form before a slow machine has filled it in.
        await stage.TakeAllOffAsync();
        using var owner = Ledger("?panel=add");
        owner.ClickText("site form", "label");
        owner.Fill("Or a page's address", $"{stage.Site}/quote", Sheet);
        owner.ClickText("Look for forms");
        owner.ClickText("quote on /quote", "label");
        owner.ClickText("a thank-you page follows", "label");
        owner.Fill("Thank-you page", "/quote/thanks", Sheet);
        owner.Fill("Name", "Commissions that went through", Sheet);
        owner.ClickText("Add source");
        owner.SeeText("What visitors can see", Sheet);

        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/quote").WaitForListening();
        visitor.Type("#quote input[name=name]", "Dilys Penrose");
        visitor.Type("#quote input[name=email]", "dilys@post.example");
        visitor.ClickText("Ask for a quote");
        visitor.SeeText("We answer within three working days");
        visitor.WaitForSnippet();
        await using var db = stage.Database.Open();
        var source = await db.Sources.SingleAsync(s => s.Name == "Commissions that went through");
        visitor.Wait(
            () => db.Events.Any(e => e.SourceId == source.Id && e.FirstName == "Dilys") ? "there" : null,
            "the event"
        );

        visitor.Go($"{stage.Site}/studio");
        visitor.WaitForSnippet();
        visitor.ClickText("The kiln", "a");
        visitor.SeeText("two people awake");
        // An address is read once it has settled; nobody reads a page in less.
        await Task.Delay(800);
        visitor.ClickText("Visit us", "a");
        visitor.Driver.ExecuteScript("history.replaceState({}, '', location.href)");
        await Task.Delay(1_500);
        var id = (string)visitor.Driver.ExecuteAsyncScript("outcry.push(['visitor', arguments[0]])")!;
        Assert.Equal(["/studio", "/studio", "/studio/kiln"], await ViewsAsync(id));
    }

    private async Task<List<string>> ViewsAsync(string visitor)
    {
        await using var db = stage.Database.Open();
        var paths = await db
            .Database.SqlQuery<string>(
                $"select path as \"Value\" from signals where visitor_id = {visitor} and kind = 1 and path like '/studio%'"
            )
            .ToListAsync();
        return [.. paths.Order()];
    }

    [Fact]
    public void Baskets_and_named_events_reach_the_ledger_and_lists_are_fetched_when_asked()
    {
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/shop/salt-jug");
        visitor.WaitForSnippet();
        visitor.ClickText("Add to basket");
        visitor.SeeText("Go to checkout");
        visitor.Go($"{stage.Site}/studio/kiln");
        visitor.WaitForSnippet();
        visitor.ClickText("Tell me when it is fired");
        using var owner = Ledger("?hours=24");
        owner.SeeText("Someone put Salt jug into the basket", "[role=table]");
        owner.SeeText("Someone: firing_reminder", "[role=table]");
        owner.Click("//button[contains(., 'Review list')]");
        owner.ClickText("Fetch now");
        owner.SeeText("8 there", Sheet);
        owner.Click("[aria-label='Close this panel']");
        owner.Click("//button[contains(., 'Journal feed')]");
        owner.ClickText("Look at it");
        owner.SeeText("New to read: The first hour on the wheel", Sheet);
        owner.AxeFindsNothing();
    }

    [Fact]
    public void Nothing_is_kept_in_the_browser_before_the_visitor_agrees_and_a_no_forgets_everything()
    {
        using var owner = Ledger("?panel=care");
        owner.ClickText("nothing before the page says", "label");
        owner.SeeText("Saved.", Sheet);
        try
        {
            using var visitor = new Chromium();
            visitor.Go($"{stage.Site}/privacy");
            visitor.WaitForSnippet();
            Assert.Empty(Kept(visitor));
            visitor.Driver.Navigate().Refresh();
            visitor.WaitForSnippet();
            Assert.Empty(Kept(visitor));
            visitor.Click("#agree");
            visitor.Wait(
                () => Kept(visitor).Contains("passport", StringComparison.Ordinal) ? "kept" : null,
                "the passport"
            );
            visitor.Go($"{stage.Site}/shop").WaitForSnippet();
            Assert.Contains("passport", Kept(visitor), StringComparison.Ordinal);
            visitor.Go($"{stage.Site}/privacy").WaitForSnippet();
            visitor.Click("#refuse");
            Assert.Empty(Kept(visitor));
        }
        finally
        {
            owner.ClickText("from the first page view", "label");
            owner.SeeText("Saved.", Sheet);
        }

        static string Kept(Chromium visitor) =>
            (
                (string)
                    visitor.Driver.ExecuteScript(
                        "return Object.entries(localStorage).concat(Object.entries(sessionStorage)).flat().join()"
                    )!
            );
    }

    [Fact]
    public void A_developer_sees_by_the_link_alone_whether_the_line_works()
    {
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/install");
        owner.ClickText("a tag manager", "label");
        owner.SeeText("custom HTML");
        owner.Fill("E-mail address", "wren@builders.example");
        owner.ClickText("Send");
        owner.SeeText("Sent.");
        owner.Fill("Its address", $"{stage.Site}/shop");
        owner.ClickText("Check");
        owner.SeeText("The line stands in the page.");
        owner.SeeText("No Content-Security-Policy stands in its way.");
        owner.AxeFindsNothing();
        owner.ClickText("Or make the link alone");
        var link = owner.Wait(
            () =>
                owner
                    .Driver.FindElements(By.CssSelector("code"))
                    .Select(c => c.Text)
                    .FirstOrDefault(t => t.Contains("/handed-over#", StringComparison.Ordinal)),
            "the link"
        );
        using var developer = new Chromium();
        developer.Go(link);
        developer.SeeText("One line for Emberwick Pottery");
        developer.SeeText("<script async src=\"" + stage.Desk);
        developer.AxeFindsNothing();
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/").WaitForSnippet();
        developer.SeeText("The snippet is heard");
        Assert.Empty(developer.Driver.FindElements(By.CssSelector("nav[aria-label=Sections]")));
        developer.Go(link[..^3] + "zzz");
        developer.Driver.Navigate().Refresh();
        developer.SeeText("This link no longer holds");
    }

    [Fact]
    public async Task Events_are_chosen_deleted_taken_back_corrected_and_a_person_is_erased()
    {
        var recorder = new Stock(stage);
        await recorder.BoughtAsync("Zadie Quill", "zadie@post.example", "Ledger jar");
        await recorder.BoughtAsync("Zadie Quill", "zadie@post.example", "Ledger bowl");
        using var owner = Ledger("?hours=0&text=ledger");
        owner.SeeText("Ledger jar", "[role=table]");
        // By keyboard: to the first row, choose it, then all.
        owner.Click("[aria-label='Choose all that are listed']");
        owner.SeeText("2 chosen");
        owner.ClickText("Delete", "button[ancestor::*[@aria-label='Chosen events']]");
        owner.SeeText("2 events deleted");
        owner.ClickText("Undo");
        owner.SeeText("Ledger bowl", "[role=table]");
        owner.ClickText("Ledger bowl", "button[@data-event]");
        owner.ClickText("Correct");
        owner.Fill("product", "Ledger dish", Sheet);
        owner.ClickText("Save");
        owner.SeeText("Ledger bowl is now Ledger dish", Sheet);
        owner.AxeFindsNothing();
        owner.ClickText("Erase a person");
        owner.Fill("Who", "ZADIE@post.example", Sheet);
        owner.ClickText("Find", "aside//button");
        owner.SeeText("Found by e-mail: 2 events", Sheet);
        owner.AxeFindsNothing();
        owner.Fill("This cannot be undone", "erase", Sheet);
        owner.ClickText("Erase for good");
        owner.SeeText("2 events, 0 visitors", Sheet);
        owner.SeeText("No event passes this filter");
        Assert.Empty(owner.Errors());
    }

    [Fact]
    public async Task Published_hostile_strings_stay_text_on_the_visitors_page_and_at_the_desk()
    {
        var strings = JsonSerializer.Deserialize<string[]>(
            await File.ReadAllTextAsync(
                Path.Combine(Stage.Root, "web/node_modules/big-list-of-naughty-strings/blns.json")
            )
        )!;
        var callout = await stage.PutLiveAsync(
            "Hostile",
            b =>
                b with
                {
                    Say = b.Say with { Message = "**{{ product }}**" },
                    Where = new Core.Targeting.WhereFacet(["/nowhere"], [], [], Replaces: false),
                }
        );
        var stock = new Stock(stage);
        var taken = await stock.HostileAsync(strings);
        Assert.True(taken > 450, $"only {taken} of {strings.Length} were taken");
        var turns = await stock.TurnsAsync(callout);
        Assert.Equal(taken, turns.Count);
        // What is said is what was stored, to the letter, white space at the edges and isolates around aside.
        Assert.All(turns, t => Assert.Equal(Folded(t.Product), Folded(t.Said)));

        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/shop").WaitForSnippet();
        visitor.Driver.ExecuteScript(SpyScript);
        var before = visitor.Driver.ExecuteScript(
            "return [document.documentElement.scrollWidth, document.documentElement.scrollHeight].join()"
        );
        List<string> previous = [];
        foreach (var (lot, number) in turns.Chunk(4).Select((l, i) => (l, i)))
        {
            visitor.Driver.ExecuteScript(
                PlanScript,
                JsonSerializer.Serialize(lot.Select(t => t.Spans)),
                $"/shop/lot-{number}"
            );
            var drawn = visitor.Wait(
                () =>
                    visitor.Driver.ExecuteScript(
                        "return [...(document.querySelector('outcry-callouts')?.shadowRoot.querySelectorAll('.slip .says') ?? [])].map((p) => p.textContent)"
                    )
                        is IReadOnlyCollection<object> { Count: > 0 } texts
                    && texts.Count == lot.Length
                    // Those of the page before stay until the address has settled.
                    && texts.Select(t => (string)t).ToList() is var shown
                    && !shown.SequenceEqual(previous)
                        ? shown
                        : null,
                $"{lot.Length} slips"
            );
            previous = drawn;
            Assert.Equal(
                lot.Select(t => Folded(t.Said)).Order(StringComparer.Ordinal),
                drawn.Select(Folded).Order(StringComparer.Ordinal)
            );
            Assert.Equal(
                0L,
                visitor.Driver.ExecuteScript(
                    "return document.querySelector('outcry-callouts').shadowRoot.querySelectorAll('.slip .says :not(strong)').length"
                )
            );
            Assert.Equal(
                0L,
                visitor.Driver.ExecuteScript(
                    "return [...document.querySelector('outcry-callouts').shadowRoot.querySelectorAll('.slip')].filter((s) => s.getBoundingClientRect().width > 340 || s.scrollWidth > s.clientWidth + 1).length"
                )
            );
        }
        Assert.Equal(
            "",
            string.Join(
                '\n',
                ((IReadOnlyCollection<object>)visitor.Driver.ExecuteScript("return window.hostile")!).Cast<string>()
            )
        );
        Assert.Equal(
            before,
            visitor.Driver.ExecuteScript(
                "return [document.documentElement.scrollWidth, document.documentElement.scrollHeight].join()"
            )
        );
        Assert.Empty(visitor.Errors());

        using var owner = Ledger("?hours=0");
        owner.See("[role=rowgroup]");
        owner.Driver.ExecuteScript(SpyScript);
        for (var page = 0; page < 12; page++)
        {
            owner.Driver.ExecuteScript("document.querySelector('[role=rowgroup]').scrollTop += 2400");
            await Task.Delay(150);
        }
        Assert.Empty(
            owner.Driver.FindElements(By.CssSelector("[role=table] img, [role=table] script, [role=table] iframe"))
        );
        Assert.Equal(0L, owner.Driver.ExecuteScript("return window.hostile.length"));
        Assert.Empty(owner.Errors());

        static string Folded(string text) =>
            string.Join(' ', text.Trim('\u2068', '\u2069').Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
    }

    // Whatever a string could make the page do ends here.
    private const string SpyScript = """
        window.hostile = [];
        for (const name of ['alert', 'confirm', 'prompt', 'open']) window[name] = (x) => hostile.push(`${name} ${x}`);
        addEventListener('error', (e) => hostile.push(e.message));
        addEventListener('securitypolicyviolation', (e) => hostile.push(e.violatedDirective));
        """;

    // The desk's own answer, with other turns in it: the real snippet draws them, until the page changes.
    private const string PlanScript = """
        window.realFetch ??= window.fetch;
        const turns = JSON.parse(arguments[0]);
        window.fetch = async (url, options) => {
          const answer = await window.realFetch(url, options);
          // The desk knows none of these callouts, and would take them off at the next sign of life.
          if (String(url).endsWith('/v/alive')) return new Response('{"over":[]}', { status: 200 });
          if (!String(url).endsWith('/v/plan')) return answer;
          const plan = await answer.json();
          plan.rules = { atOnce: 100, gapMs: 0, mostPerVisit: 1000, patienceMs: 10000 };
          plan.visit = { starts: 0, hushLeftMs: 0, dialogHushLeftMs: 0 };
          plan.words = { en: { close: 'Close', why: 'Why this?', whyEvents: '', whyNotice: '' } };
          // One in each corner: beyond that the screen has no room, and the snippet rightly shows nothing.
          plan.cues = turns.map((spans, i) => ({
            id: crypto.randomUUID(), shape: 'Slip', priority: 5, turnGapMs: 1000, hushMs: 0, side: i % 2 ? 'Left' : 'Right', top: i > 1, lang: 'en', drawn: true,
            band: '#9C3517', bandInk: '#FFFFFF', ground: '#FFFFFF', ink: '#000000', closeMark: true, framed: false, turns: [{ spans }],
          }));
          return new Response(JSON.stringify(plan), { status: 200 });
        };
        history.pushState({}, '', arguments[1]);
        """;
}
