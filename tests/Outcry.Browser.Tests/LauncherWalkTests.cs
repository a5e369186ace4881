using OpenQA.Selenium;
using Outcry.Core.Greetings;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Browser.Tests;

/// <summary>A launcher as visitors meet it and as a marketer sets it up.</summary>
[Collection("one browser at a time")]
public sealed class LauncherWalkTests(Stage stage)
{
    // Open at all hours, so that nothing hangs on when it runs; on one page, with one who is written to.
    private static LauncherBrief Brief(string page = "/studio")
    {
        var begin = LauncherStarter.Launcher("Europe/London", "#9C3517", "#FFFFFF");
        return begin with
        {
            Where = new WhereFacet([page], [], [], Replaces: false),
            Hours = begin.Hours with { Week = [] },
            Channels =
            [
                begin.Channels[0] with
                {
                    Kind = ChannelKind.Form,
                    Fields = [new FormField(AskedField.Message, true), new FormField(AskedField.Email, true)],
                },
            ],
            MailTo = ["studio@emberwick.example"],
        };
    }

    private static Channel Way(LauncherBrief brief, ChannelKind kind, string target) =>
        brief.Channels[0] with
        {
            Id = Guid.CreateVersion7(),
            Kind = kind,
            Target = target,
        };

    private static Rung Greeting(string words, params string[] replies)
    {
        var rung = LauncherStarter.Rung(GreetingPurpose.Own);
        return rung with
        {
            When = rung.When with { Triggers = [Trigger.After(1)] },
            Words = [new GreetingWords("", words, replies), new GreetingWords("ar", "هل لديك سؤال؟", replies)],
            StaySeconds = null,
        };
    }

    /// <summary>What stands in the launcher's own root, or null.</summary>
    private static IWebElement? Find(Chromium browser, string css) =>
        browser.Driver.ExecuteScript(
            "return document.querySelector('outcry-launcher')?.shadowRoot.querySelector(arguments[0])",
            css
        ) as IWebElement;

    private static IWebElement See(Chromium browser, string css) =>
        browser.Wait(() => Find(browser, css) is { Displayed: true } there ? there : null, $"{css} of the launcher");

    private static void SeeNone(Chromium browser, string css) =>
        browser.Wait(() => Find(browser, css) is null ? "gone" : null, $"{css} to be gone");

    /// <summary>Where the focus is, in the launcher's root.</summary>
    private static IWebElement Focused(Chromium browser) =>
        browser.Wait(
            () =>
                browser.Driver.ExecuteScript(
                    "return document.querySelector('outcry-launcher').shadowRoot.activeElement"
                ) as IWebElement,
            "the focus in the launcher"
        );

    private async Task<string> MailAsync(Chromium browser, string words)
    {
        using var outside = new HttpClient();
        for (var looks = 0; looks < 100; looks++)
        {
            var mails = await outside.GetStringAsync($"{stage.Site}/mailbox.json");
            if (mails.Contains(words, StringComparison.Ordinal))
                return mails;
            await Task.Delay(200);
        }
        throw new InvalidOperationException($"No mail says {words}; the visitor stood at {browser.Driver.Url}.");
    }

    [Fact]
    public async Task A_message_is_written_by_keyboard_alone_and_lies_in_the_mailbox_with_its_thanks_on_the_page()
    {
        await stage.PutLauncherLiveAsync("By keyboard", Brief());
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/studio");
        var tab = See(visitor, "button.tab");
        Assert.Equal("false", tab.GetAttribute("aria-expanded"));
        visitor.Driver.ExecuteScript("arguments[0].focus()", tab);
        tab.SendKeys(Keys.Enter);
        See(visitor, ".panel");
        visitor.AxeFindsNothing();
        // Into the panel, past its close mark, to the way to write.
        Focused(visitor).SendKeys(Keys.Tab);
        Assert.Equal("close", Focused(visitor).GetAttribute("class"));
        Focused(visitor).SendKeys(Keys.Tab);
        Focused(visitor).SendKeys(Keys.Enter);
        var words = $"Do you fire for others? {Guid.NewGuid():N}";
        Assert.Equal("textarea", Focused(visitor).TagName);
        Focused(visitor).SendKeys(words + Keys.Tab);
        Focused(visitor).SendKeys("nobody" + Keys.Enter);
        // What is wrong is said at its field, and nothing typed is lost.
        var email = Find(visitor, "input[type=email]")!;
        visitor.Wait(() => email.GetAttribute("aria-invalid") == "true" ? "said" : null, "what is wrong");
        visitor.AxeFindsNothing();
        Assert.Equal(words, Find(visitor, "textarea")!.GetAttribute("value"));
        email.SendKeys(Keys.Control + "a" + Keys.Null + "noor@reader.net" + Keys.Enter);
        Assert.Equal("status", See(visitor, ".inside [role=status]").GetAttribute("role"));
        var mail = await MailAsync(visitor, words);
        Assert.Contains("studio@emberwick.example", mail, StringComparison.Ordinal);
        visitor.AxeFindsNothing();
        Focused(visitor).SendKeys(Keys.Escape);
        SeeNone(visitor, ".panel");
        Assert.Contains("tab", Focused(visitor).GetAttribute("class"), StringComparison.Ordinal);
        Assert.Empty(visitor.Errors());
    }

    [Fact]
    public async Task A_greeting_comes_in_a_bubble_and_its_ready_reply_begins_the_message()
    {
        await stage.PutLauncherLiveAsync(
            "Greets",
            Brief() with
            {
                Rungs = [Greeting("**Coming** as a group?", "Up to eight", "More")],
            }
        );
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/studio");
        Assert.Contains("Coming as a group?", See(visitor, ".bubble").Text, StringComparison.Ordinal);
        visitor.AxeFindsNothing();
        See(visitor, ".bubble .choice").Click();
        Assert.Equal("Up to eight", See(visitor, "textarea").GetAttribute("value"));
        SeeNone(visitor, ".bubble");
        // Answered it comes no more.
        visitor.Go($"{stage.Site}/studio");
        See(visitor, "button.tab");
        await Task.Delay(2_500);
        Assert.Null(Find(visitor, ".bubble"));
        Assert.Empty(visitor.Errors());
    }

    [Fact]
    public async Task What_opens_by_itself_takes_the_focus_from_nobody_and_is_a_bubble_on_phones_read_from_the_right()
    {
        var begin = Brief();
        await stage.PutLauncherLiveAsync(
            "Opens",
            begin with
            {
                Words = [begin.OwnWords, new LauncherWords("ar", "اسأل الورشة", "", "", "ماذا تود أن تعرف؟", "", "")],
                Rungs = [Greeting("A question?") with { Does = GreetingAct.OpenPanel }],
            }
        );
        using (var desktop = new Chromium())
        {
            desktop.Go($"{stage.Site}/studio");
            See(desktop, ".panel");
            Assert.Equal("BODY", desktop.Driver.ExecuteScript("return document.activeElement.tagName"));
            See(desktop, ".panel .close").Click();
            SeeNone(desktop, ".panel");
        }
        using var phone = new Chromium();
        phone.Driver.ExecuteCdpCommand(
            "Emulation.setUserAgentOverride",
            new() { ["userAgent"] = Chromium.UserAgent, ["acceptLanguage"] = "ar" }
        );
        phone.Driver.ExecuteCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            new()
            {
                ["width"] = 390,
                ["height"] = 800,
                ["deviceScaleFactor"] = 1,
                ["mobile"] = false,
            }
        );
        phone.Go($"{stage.Site}/studio");
        Assert.Contains("هل لديك سؤال؟", See(phone, ".bubble").Text, StringComparison.Ordinal);
        Assert.Null(Find(phone, ".panel"));
        See(phone, ".bubble .says").Click();
        var panel = See(phone, ".panel");
        Assert.Equal("rtl", phone.Driver.ExecuteScript("return getComputedStyle(arguments[0]).direction", panel));
        var fits = phone.Driver.ExecuteScript(
            "const b = arguments[0].getBoundingClientRect(); const d = document.documentElement; return b.left >= 0 && b.right <= innerWidth && b.top >= 0 && d.scrollWidth <= d.clientWidth ? 'fits' : JSON.stringify([b, innerWidth, d.scrollWidth, d.clientWidth])",
            panel
        );
        Assert.Equal("fits", fits);
        phone.AxeFindsNothing();
        Assert.Empty(phone.Errors());
    }

    [Fact]
    public async Task The_page_opens_it_by_an_element_a_fragment_or_a_script()
    {
        await stage.PutLauncherLiveAsync("Opened", Brief("/**") with { Fragment = "ask" });
        await using var pages = await ForeignPages.ServeAsync(
            stage,
            "<!doctype html><html lang=en><link rel=icon href=data:,><title>Elsewhere</title><main><h1>Elsewhere</h1><button data-outcry-open>Talk to us</button><a href='#ask'>Or here</a></main>SNIPPET</html>"
        );
        using var visitor = new Chromium();
        visitor.Go($"{pages.Origin}/somewhere");
        See(visitor, "button.tab");
        visitor.Click("[data-outcry-open]");
        Shut();
        visitor.Click("a");
        Shut();
        visitor.Driver.ExecuteScript("outcry.push(['open'])");
        Shut();
        visitor.Go($"{pages.Origin}/other#ask");
        Shut();
        Assert.Empty(visitor.Errors());

        void Shut()
        {
            See(visitor, ".panel .close").Click();
            SeeNone(visitor, ".panel");
        }
    }

    [Fact]
    public async Task One_way_alone_is_taken_straight_and_where_no_app_opens_its_web_version_does()
    {
        var brief = Brief();
        var channel = Way(brief, ChannelKind.Messenger, "@emberwick") with
        {
            AppLink = "nobodyanswers://chat?to={handle}&text={text}",
            WebLink = $"{stage.Site}/outside/wren/{{handle}}?text={{text}}",
            Prefill = "About {{ page }} & \"more\": ",
        };
        await stage.PutLauncherLiveAsync("Straight", brief with { Channels = [channel] });
        // Nothing on the machine knows the app, and nothing asks.
        using (var silent = Press(""))
            SeeWeb(silent);
        // The browser asks whether to open it, and is told no: the next click is led to the web version.
        using var asking = Press("setTimeout(() => dispatchEvent(new Event('blur')), 50)");
        await Task.Delay(1_500);
        Assert.Single(asking.Driver.WindowHandles);
        Assert.EndsWith("/studio", asking.Driver.Url, StringComparison.Ordinal);
        See(asking, "a.tab").Click();
        SeeWeb(asking);

        // This browser has a question of its own, which would lie over the page: so the app's link is followed by what the test says.
        Chromium Press(string follows)
        {
            var visitor = new Chromium();
            visitor.Go($"{stage.Site}/studio");
            var tab = See(visitor, "a.tab");
            // As a hand does: near first, then pressed.
            new OpenQA.Selenium.Interactions.Actions(visitor.Driver)
                .MoveToElement(tab)
                .Perform();
            Thread.Sleep(1_000);
            visitor.Driver.ExecuteScript(
                "Object.defineProperty(HTMLIFrameElement.prototype, 'src', { set() { " + follows + " } })"
            );
            tab.Click();
            return visitor;
        }

        void SeeWeb(Chromium visitor)
        {
            visitor.Wait(
                () =>
                {
                    visitor.Driver.SwitchTo().Window(visitor.Driver.WindowHandles[^1]);
                    return visitor.Driver.Url.Contains("/outside/wren/", StringComparison.Ordinal) ? "there" : null;
                },
                "the web version"
            );
            visitor.SeeText("You are writing to @emberwick.");
            Assert.Equal(
                $"About https://{new Uri(stage.Site).Authority}/studio & \"more\":",
                visitor.See("textarea[name=text]").GetAttribute("value")
            );
        }
    }

    [Fact]
    public async Task A_marketer_begins_one_greets_publishes_and_a_visitor_meets_it()
    {
        // Nothing else is live; a launcher of its own makes the list one that has something.
        await stage.PutLauncherLiveAsync("Elsewhere", Brief("/nowhere"));
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/launchers");
        owner.AxeFindsNothing();
        owner.ClickText("New launcher");
        owner.SeeText("It greets nobody by itself");
        owner.Type("input[aria-label='Name of this launcher']", "Talk to the kiln");
        owner.ClickText("Add a greeting");
        owner.ClickText("A greeting of your own", "div[@role='menuitem']");
        owner.WriteMessage("Shall we talk about clay?");
        owner.ClickText("Done");
        owner.SeeText("Draft saved");
        // For whoever else it is climbed as well, on whatever they hold.
        owner.SeeText("first visit, desktop", "[aria-label=Why]");
        owner.Click("//label[normalize-space(.)='Phone']");
        owner.SeeText("first visit, phone", "[aria-label=Why]");
        owner.Click("//label[normalize-space(.)='Other']");
        owner.Click("//section[@aria-label='Stage']//button[contains(., 'new visitor')]");
        owner.Fill("This is visit", "3", "[role=dialog]");
        owner.SeeText("visitor in visit 3", "[aria-label=Stage]");
        owner.See("[role=dialog]").SendKeys(Keys.Escape);
        owner.AxeFindsNothing();
        owner.ClickText("Publish");
        owner.ClickText("Publish now");
        owner.SeeText("Live as revision 1");
        var launcher = owner.Driver.Url.Split('/')[^1];
        Assert.Contains(
            stage.Sites.GetById(stage.World.Site.Id).Launchers,
            l => l.Id.ToString() == launcher && l.Brief.Rungs[0].Words[0].Words == "Shall we talk about clay?"
        );
        Assert.Empty(owner.Errors());
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/studio");
        See(visitor, ".tab");
        Assert.Empty(visitor.Errors());
    }
}
