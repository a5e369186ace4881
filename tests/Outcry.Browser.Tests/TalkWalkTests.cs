using OpenQA.Selenium;
using Outcry.Core.Greetings;
using Outcry.Core.Targeting;

namespace Outcry.Browser.Tests;

/// <summary>A talk in two real browsers: the visitor's at the demo site, the team's at the desk.</summary>
[Collection("one browser at a time")]
public sealed class TalkWalkTests(Stage stage)
{
    private const string Path = "/quote";

    private static IReadOnlyCollection<IWebElement> All(Chromium browser, string css) =>
        browser.Driver.ExecuteScript(
            "return [...(document.querySelector('outcry-launcher')?.shadowRoot.querySelectorAll(arguments[0]) ?? [])]",
            css
        ) as IReadOnlyCollection<IWebElement>
        ?? [];

    private static IWebElement See(Chromium browser, string css) =>
        browser.Wait(() => All(browser, css).FirstOrDefault(e => e.Displayed), $"{css} of the launcher");

    private static void SeeRow(Chromium browser, string text) =>
        browser.Wait(
            () => All(browser, ".said .row").FirstOrDefault(r => r.Text.Contains(text, StringComparison.Ordinal)),
            $"\"{text}\" in the talk"
        );

    private async Task OpenDoorAsync()
    {
        var begin = LauncherStarter.Launcher("Europe/London", "#9C3517", "#FFFFFF");
        await stage.PutLauncherLiveAsync(
            "Talks",
            begin with
            {
                Where = new WhereFacet([Path], [], [], Replaces: false),
                Hours = begin.Hours with { Week = [] },
            }
        );
    }

    private static void Say(Chromium visitor, string text) =>
        See(visitor, ".talk textarea").SendKeys(text + Keys.Enter);

    [Fact]
    public async Task Question_and_answer_go_both_ways_over_a_reload_a_closed_panel_and_a_lost_network()
    {
        await OpenDoorAsync();
        var mark = Guid.NewGuid().ToString("N")[..8];
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}{Path}");
        See(visitor, "button.tab").Click();
        See(visitor, ".write").Click();
        See(visitor, ".talk");
        visitor.AxeFindsNothing();
        Say(visitor, $"Is the kiln warm? {mark} <b>bold</b>");
        SeeRow(visitor, "<b>bold</b>");
        visitor.AxeFindsNothing();

        using var team = new Chromium().SignIn(stage);
        team.Go($"{stage.Desk}/inbox");
        team.Wait(
                () =>
                    team
                        .Driver.FindElements(By.CssSelector("[data-talk]"))
                        .FirstOrDefault(r => r.Text.Contains(mark, StringComparison.Ordinal)),
                "the talk in the inbox"
            )
            .Click();
        team.Type("textarea[aria-label=Reply]", "It is, come by.");
        team.AxeFindsNothing();
        team.Driver.FindElement(By.CssSelector("textarea[aria-label=Reply]")).SendKeys(Keys.Control + Keys.Enter);
        SeeRow(visitor, "It is, come by.");
        team.SeeText("seen");
        team.ClickText("Note");
        team.Type("textarea[aria-label='Note to the team']", "between us");
        team.ClickText("Keep the note");
        team.SeeText("to the team:");

        // It is there after a reload, and what comes meanwhile stands on the button and in the title.
        visitor.Go($"{stage.Site}{Path}");
        See(visitor, "button.tab");
        team.ClickText("Reply");
        team.Type("textarea[aria-label=Reply]", "The door is open.");
        team.ClickText("Send");
        See(visitor, ".tab .unread");
        visitor.Wait(
            () => visitor.Driver.Title.StartsWith("1 new", StringComparison.Ordinal) ? "said" : null,
            "the title"
        );
        See(visitor, "button.tab").Click();
        SeeRow(visitor, "The door is open.");
        Assert.DoesNotContain(All(visitor, ".row"), r => r.Text.Contains("between us", StringComparison.Ordinal));
        visitor.Wait(() => All(visitor, ".tab .unread").Count == 0 ? "seen" : null, "nothing unread");

        // Without a network it is kept, and sent once and in order when that is back.
        visitor.Block("*/v/talks*");
        Say(visitor, "one");
        Say(visitor, "two");
        visitor.Wait(() => All(visitor, ".unsent .row") is { Count: 2 } ? "kept" : null, "both kept");
        visitor.Block();
        visitor.Wait(() => All(visitor, ".unsent .row") is { Count: 0 } ? "sent" : null, "both sent");
        SeeRow(visitor, "two");
        var own = All(visitor, ".said .own").Select(r => r.Text).ToList();
        Assert.Equal(3, own.Count);
        Assert.EndsWith("one", own[1], StringComparison.Ordinal);
        Assert.EndsWith("two", own[2], StringComparison.Ordinal);

        // Closed by the team the visitor is told; written again it goes on.
        team.ClickText("Close");
        team.ClickText("answered", "*[@role='menuitem']");
        visitor.Wait(
            () => See(visitor, ".note").Text.Contains("has ended", StringComparison.Ordinal) ? "told" : null,
            "the end"
        );
        Say(visitor, "Thank you!");
        team.Wait(
            () => team.Driver.PageSource.Contains("Thank you!", StringComparison.Ordinal) ? "heard" : null,
            "the talk open again"
        );
        // Of a visit that is still going on nothing is recorded yet: the desk asks, and says so.
        Assert.DoesNotContain(team.Errors(), e => !e.Contains("/visitors/", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_ready_reply_is_the_first_word()
    {
        var begin = LauncherStarter.Launcher("Europe/London", "#9C3517", "#FFFFFF");
        var rung = LauncherStarter.Rung(GreetingPurpose.Groups);
        await stage.PutLauncherLiveAsync(
            "Talks with replies",
            begin with
            {
                Where = new WhereFacet(["/journal"], [], [], Replaces: false),
                Hours = begin.Hours with { Week = [] },
                Rungs =
                [
                    rung with
                    {
                        When = rung.When with { Triggers = [Core.Timing.Trigger.After(1)] },
                        Does = GreetingAct.Bubble,
                    },
                ],
            }
        );
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/journal");
        See(visitor, ".bubble .choice").Click();
        SeeRow(visitor, "Up to eight");
        Assert.Empty(visitor.Errors());
    }
}
