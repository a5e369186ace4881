using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using OpenQA.Selenium;
using Outcry.Core.Asking;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Greetings;
using Outcry.Core.Publishing;
using Outcry.Core.Scripts;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Store;

namespace Outcry.Browser.Tests;

/// <summary>A prompt in a real browser: asked in every shape, answered, confirmed by mail, found among the leads.</summary>
[Collection("one browser at a time")]
public sealed class PromptWalkTests(Stage stage)
{
    private const string Path = "/quote";

    public static TheoryData<Shape> Shapes =>
        [.. Enum.GetValues<Shape>().Where(s => s is not (Shape.Bubble or Shape.Crawl))];

    private const string Ring = "You may ring me, too";

    private static AskFacet Ask(bool confirms = true) =>
        new(
            [
                new PromptField(Guid.NewGuid(), FieldKind.Email, "email", true, []),
                new PromptField(Guid.NewGuid(), FieldKind.FirstName, "first_name", false, []),
                new PromptField(
                    Guid.NewGuid(),
                    FieldKind.Choice,
                    "size",
                    false,
                    [new FieldWords("", "Which size?", ["Small", "Large"])]
                ),
                new PromptField(Guid.NewGuid(), FieldKind.Consent, "ring", false, [new FieldWords("", Ring, [])]),
            ],
            [],
            [
                new AskWords(
                    "",
                    "Send it",
                    "One letter a month. Leave whenever you like.",
                    "No other mail.",
                    "Look in your mail",
                    "",
                    ""
                ),
            ],
            Ticks: true,
            confirms,
            new Reward(RewardKind.Code, "KILN-TEN", null, false),
            ["letters"]
        );

    private Task<Guid> PutLiveAsync(Shape shape, bool confirms = true, Func<Brief, Brief>? vary = null)
    {
        var start = StarterBrief.For(CalloutKind.Prompt, EventKind.SignUp, []);
        return stage.PutLiveAsync(
            $"Asks as a {shape}",
            _ =>
                (vary ?? (b => b))(
                    start with
                    {
                        Say = start.Say with { Message = "**May we write to you?**", Picture = SayPicture.None },
                        Where = new WhereFacet([Path], [], [], Replaces: false),
                        When = start.When with { Triggers = [] },
                        Look = start.Look with { Shape = shape, Anchor = shape == Shape.Inset ? "h1" : "" },
                        Ask = Ask(confirms),
                    }
                )
        );
    }

    private static IWebElement? Find(Chromium browser, string css) =>
        browser.Driver.ExecuteScript(
            """
            for (const host of document.querySelectorAll('outcry-callouts, outcry-dialog, outcry-inset')) {
              const found = host.shadowRoot?.querySelector(arguments[0]);
              if (found) return found;
            }
            return null;
            """,
            css
        ) as IWebElement;

    private static IWebElement See(Chromium browser, string css) => browser.Wait(() => Find(browser, css), css);

    [Theory]
    [MemberData(nameof(Shapes))]
    public async Task It_asks_in_every_shape_by_keys_alone_and_for_everybody(Shape shape)
    {
        await PutLiveAsync(shape, confirms: false);
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}{Path}");
        See(visitor, ".asks input[type=email]");
        visitor.AxeFindsNothing();
        var email = See(visitor, ".asks input[type=email]");
        // Sent empty it says what is missing, beside it, and goes there.
        email.SendKeys(Keys.Enter);
        Assert.Equal("true", email.GetAttribute("aria-invalid"));
        Assert.Equal(
            "email",
            visitor.Driver.ExecuteScript(
                "let e = document.activeElement; while (e?.shadowRoot) e = e.shadowRoot.activeElement; return e?.type"
            )
        );
        visitor.AxeFindsNothing();
        var address = $"p{Guid.NewGuid():N}"[..12] + "@reader.net";
        email.SendKeys(
            address + Keys.Tab + "Noor" + Keys.Tab + Keys.Space + Keys.Tab + Keys.Space + Keys.Tab + Keys.Space
        );
        email.SendKeys(Keys.Enter);
        visitor.Wait(
            () =>
                Find(visitor, ".thanks") is { } thanks && thanks.Text.Contains("KILN-TEN", StringComparison.Ordinal)
                    ? thanks
                    : null,
            "the thanks with the code"
        );
        visitor.AxeFindsNothing();
        await using (var db = stage.Database.Open())
        {
            var lead = await db.Leads.SingleAsync(l => l.EmailKey == address, TestContext.Current.CancellationToken);
            Assert.Equal(("Small", Ring), (lead.Answers["size"], lead.Answers["ring"]));
        }
        See(visitor, ".close").SendKeys(Keys.Enter);
        visitor.Wait(() => Find(visitor, "[data-id]") is null ? "gone" : null, "it to be gone");
        // Nobody is asked twice.
        visitor.Go($"{stage.Site}{Path}");
        visitor.WaitForSnippet();
        await Task.Delay(1_500, TestContext.Current.CancellationToken);
        Assert.Null(Find(visitor, ".asks"));
        Assert.Empty(visitor.Errors());
    }

    [Theory]
    [InlineData(Shape.Poster)]
    [InlineData(Shape.Curtain)]
    [InlineData(Shape.Drawer)]
    [InlineData(Shape.Slip)]
    public async Task Its_parts_stand_in_the_order_chosen_in_front_of_a_picture_where_there_is_room(Shape shape)
    {
        await PutLiveAsync(
            shape,
            confirms: false,
            b =>
                b with
                {
                    Say = b.Say with { Picture = SayPicture.Image, PictureAddress = "/img/iron-bowl.svg" },
                    Look = b.Look with { Backdrop = "/img/shelves.svg" },
                    Ask = b.Ask! with
                    {
                        Blocks = [FaceBlock.SmallPrint, FaceBlock.Promise, FaceBlock.Message, FaceBlock.Picture],
                        Second = new SecondFace("/img/salt-jug.svg", "#FFD166", "#1D3557"),
                    },
                }
        );
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}{Path}");
        string[] order = [".asks .small", ".asks .promise", ".asks .says", ".asks .picture", ".asks input[type=email]"];
        var tops = order.Select(css => See(visitor, css).Location.Y).ToList();
        Assert.Equal(tops.Order(), tops);
        Assert.True(See(visitor, ".asks .send").Location.Y > tops[^1]);
        Assert.Equal(shape != Shape.Slip, Find(visitor, ".behind-all") is not null);
        visitor.AxeFindsNothing();
        See(visitor, ".asks input[type=email]").SendKeys($"b{Guid.NewGuid():N}"[..12] + "@reader.net");
        visitor.Driver.ExecuteScript("arguments[0].click()", See(visitor, ".promise input"));
        visitor.Driver.ExecuteScript("arguments[0].click()", See(visitor, ".asks .send"));
        See(visitor, ".thanks");
        Assert.Null(Find(visitor, ".asks"));
        Assert.Equal(shape != Shape.Slip, Find(visitor, ".sheet > .thanks") is not null);
        // The face after a yes has a picture and colours of its own; axe measures what the words stand on.
        var after = See(visitor, ".thanks .after").GetAttribute("src")!;
        Assert.EndsWith("/img/salt-jug.svg", after, StringComparison.Ordinal);
        Assert.Equal("rgba(255, 255, 255, 1)", See(visitor, ".thanks .says").GetCssValue("color"));
        visitor.AxeFindsNothing();
        Assert.Empty(visitor.Errors());
    }

    [Fact]
    public async Task What_was_typed_survives_a_lost_network_and_goes_by_itself_and_the_mail_leads_to_one_button()
    {
        await PutLiveAsync(Shape.Drawer);
        var address = $"n{Guid.NewGuid():N}"[..12] + "@reader.net";
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}{Path}");
        See(visitor, ".asks input[type=email]").SendKeys(address);
        visitor.Driver.ExecuteScript("arguments[0].click()", See(visitor, ".promise input"));
        Network(visitor, isOffline: true);
        See(visitor, ".asks .send").Click();
        visitor.Wait(
            () => Find(visitor, ".asks > .fault") is { Text.Length: > 0 } said ? said : null,
            "that it was not sent"
        );
        Assert.Equal(address, See(visitor, ".asks input[type=email]").GetAttribute("value"));
        Network(visitor, isOffline: false);
        visitor.Driver.ExecuteScript("window.dispatchEvent(new Event('online'))");
        visitor.Wait(() => Find(visitor, ".thanks"), "the thanks");

        visitor.Wait(
            () =>
            {
                using var db = stage.Database.Open();
                return db.Leads.Any(l => l.EmailKey == address) ? "there" : null;
            },
            "the lead"
        );
        visitor.Go($"{stage.Site}/mailbox");
        var link = visitor.Wait(
            () =>
            {
                visitor.Driver.Navigate().Refresh();
                var page = visitor.Driver.FindElement(By.TagName("body")).Text;
                return
                    page.Contains(address, StringComparison.Ordinal)
                    && Regex.Match(page, @"https?://\S+/o/confirm/\S+") is { Success: true } found
                    ? found.Value
                    : null;
            },
            "the mail that asks to confirm"
        );
        visitor.Go(link);
        visitor.SeeText("One press");
        visitor.AxeFindsNothing();
        visitor.Click("button.press");
        visitor.SeeText("KILN-TEN");
        visitor.AxeFindsNothing();

        using var team = new Chromium().SignIn(stage);
        team.Go($"{stage.Desk}/leads");
        team.SeeText(address);
        team.AxeFindsNothing();
        team.ClickText(address);
        team.SeeText("One letter a month. Leave whenever you like.");
        team.SeeText("box ticked by hand");
        team.AxeFindsNothing();
        team.ClickText("Take it back for them");
        team.SeeText("took it back");
        team.Go($"{stage.Desk}/leads?panel=rewards");
        team.SeeText("Pools of codes");
        team.AxeFindsNothing();
        Assert.Empty(team.Errors());
    }

    [Fact]
    public async Task A_prompt_is_written_in_sentences_and_looked_at_without_anything_being_sent()
    {
        var id = await PutLiveAsync(Shape.Poster);
        using var team = new Chromium().SignIn(stage);
        team.Go($"{stage.Desk}/callouts/{id}");
        team.SeeText("They agree to");
        team.Click("[data-phrase='ask.promise']");
        team.AxeFindsNothing();
        team.Click("[data-phrase='ask.fields']");
        team.SeeText("must be given");
        team.AxeFindsNothing();
        team.Click("[data-phrase='ask.reward']");
        team.SeeText("Theirs once they have confirmed");
        team.AxeFindsNothing();
        // The mail with which it asks to confirm stands beside both faces of the page.
        team.Click("//label[.='The mail']");
        var mail = team.See("iframe[title='The mail that asks to confirm']");
        team.Wait(
            () =>
            {
                team.Driver.SwitchTo().Frame(mail);
                var text = team.Driver.FindElement(By.TagName("body")).Text;
                team.Driver.SwitchTo().DefaultContent();
                return text.Contains("Emberwick Pottery", StringComparison.Ordinal) ? text : null;
            },
            "the mail"
        );
        team.AxeFindsNothing();
        team.Click("//label[.='Asking']");
        team.Click("[data-phrase='look.backdrop']");
        team.SeeText("What is said keeps its own ground");
        team.AxeFindsNothing();
        // By keys: the small print two places up, above the promise.
        team.Click("[data-phrase='ask.blocks']");
        team.See("[aria-label='Move the small print']").SendKeys(" ");
        foreach (var key in new[] { Keys.ArrowUp, Keys.ArrowUp, " " })
        {
            await Task.Delay(300, TestContext.Current.CancellationToken);
            team.Driver.SwitchTo().ActiveElement().SendKeys(key);
        }
        team.SeeText(
            "with the picture, the message, what it asks for, the small print, the promise and the button in this order"
        );
        team.AxeFindsNothing();
        team.ClickText("Back to the usual order");
        team.SeeText("in the usual order");
        Assert.Empty(team.Errors());
    }

    private static void Network(Chromium browser, bool isOffline)
    {
        browser.Driver.ExecuteCdpCommand("Network.enable", []);
        browser.Driver.ExecuteCdpCommand(
            "Network.emulateNetworkConditions",
            new()
            {
                ["offline"] = isOffline,
                ["latency"] = 0,
                ["downloadThroughput"] = -1,
                ["uploadThroughput"] = -1,
            }
        );
    }

    [Fact]
    public async Task A_script_offers_a_prompt_which_opens_in_place_of_the_talk_and_is_not_offered_after_a_yes()
    {
        await stage.TakeAllOffAsync();
        var start = StarterBrief.For(CalloutKind.Prompt, EventKind.SignUp, []);
        var prompt = await stage.PutBesideAsync(
            "Asks when offered",
            BriefKind.Callout,
            KeptContent.Of(
                start with
                {
                    Say = start.Say with { Message = "**May we write to you?**", Picture = SayPicture.None },
                    Where = new WhereFacet([Path], [], [], Replaces: false),
                    // Never by itself: nothing on that page is called so.
                    When = start.When with
                    {
                        Triggers = [new Trigger(TriggerKind.Click, Target: "#nowhere")],
                    },
                    Look = start.Look with { Shape = Shape.Poster },
                    Ask = Ask(confirms: false),
                }
            )
        );
        Step Offer(string words) =>
            new(Guid.CreateVersion7(), 0, StepKind.Offer, [new("", words, [], "")])
            {
                Offers = OfferOf.Prompt,
                Offered = prompt,
            };
        var script = await stage.PutBesideAsync(
            "Offers",
            ScriptKind.Name,
            KeptContent.Of(
                new Script(
                    [
                        Offer("Have our letters"),
                        new(
                            Guid.CreateVersion7(),
                            0,
                            StepKind.Ask,
                            [new("", "Anything else?", [], "")],
                            new Question(AskKind.Text, "more", false, [], null, null)
                        ),
                        Offer("Have them again"),
                        new(Guid.CreateVersion7(), 0, StepKind.End, [new("", "Until next time.", [], "")]),
                    ],
                    0,
                    30,
                    []
                )
            )
        );
        var begin = LauncherStarter.Launcher("Europe/London", "#9C3517", "#FFFFFF");
        await stage.PutBesideAsync(
            "Talks",
            LauncherKind.Launcher,
            KeptContent.Of(
                begin with
                {
                    Where = new WhereFacet([Path, "/"], [], [], Replaces: false),
                    Hours = begin.Hours with { Week = [] },
                    ScriptId = script,
                }
            )
        );
        using var browser = new Chromium();
        browser.Go($"{stage.Site}{Path}");
        SeeOfLauncher(browser, "button.tab").Click();
        SeeOfLauncher(browser, ".write").Click();
        SeeOfLauncher(browser, ".talk textarea").SendKeys("Hello" + Keys.Enter);
        var offer = SeeOfLauncher(browser, ".said .offer");
        Assert.Equal("Have our letters", offer.Text);
        browser.AxeFindsNothing();
        offer.Click();
        See(browser, ".asks input[type=email]").SendKeys($"o{Guid.NewGuid():N}"[..14] + "@reader.net");
        Assert.Null(OfLauncher(browser, ".panel"));
        browser.Driver.ExecuteScript("arguments[0].click()", See(browser, ".promise input"));
        See(browser, ".asks .send").Click();
        See(browser, ".thanks");

        // On a page that does not hold the prompt its words stand without a button.
        browser.Go($"{stage.Site}/");
        SeeOfLauncher(browser, "button.tab").Click();
        SeeOfLauncher(browser, ".talk textarea").SendKeys("No, thank you" + Keys.Enter);
        browser.Wait(
            () =>
                SeeOfLauncher(browser, ".said").Text.Contains("Until next time.", StringComparison.Ordinal)
                    ? "said"
                    : null,
            "the end"
        );
        var said = SeeOfLauncher(browser, ".said").Text;
        Assert.Contains("Have our letters", said, StringComparison.Ordinal);
        Assert.DoesNotContain("Have them again", said, StringComparison.Ordinal);
        Assert.Null(OfLauncher(browser, ".said .offer"));
    }

    private static IWebElement? OfLauncher(Chromium browser, string css) =>
        browser.Driver.ExecuteScript(
            "return document.querySelector('outcry-launcher')?.shadowRoot.querySelector(arguments[0]) ?? null",
            css
        ) as IWebElement;

    private static IWebElement SeeOfLauncher(Chromium browser, string css) =>
        browser.Wait(() => OfLauncher(browser, css) is { Displayed: true } found ? found : null, css);
}
