using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Outcry.Browser.Tests;

/// <summary>The desk where nothing is there yet, where something fails, where it takes long; and without a pointer.</summary>
[Collection("one browser at a time")]
public sealed class DeskStatesTests(Stage stage)
{
    [Theory]
    [InlineData("", "*/run-sheet*")]
    [InlineData("callouts", "*/callouts")]
    [InlineData("launchers", "*/launchers")]
    [InlineData("ledger", "*/events?*")]
    [InlineData("audience", "*/segments*")]
    [InlineData("audience?view=visitors", "*/visitors?*")]
    [InlineData("install", "*/install*")]
    [InlineData("rehearsal", "*/rehearsals*")]
    public async Task What_fails_says_so_and_is_asked_for_again_by_a_button(string page, string request)
    {
        await stage.PutLiveAsync("Behind a fault", b => b);
        using var owner = new Chromium();
        owner.SignIn(stage);
        owner.Block(request);
        owner.Go($"{stage.Desk}/s/{stage.World.Site.Key}/{page}");
        owner.SeeText("Try again", "main");
        owner.AxeFindsNothing();
        owner.Block();
        owner.ClickText("Try again");
        owner.SeeNot("Try again", "main");
    }

    [Theory]
    [InlineData("")]
    [InlineData("callouts")]
    [InlineData("launchers")]
    [InlineData("ledger")]
    [InlineData("audience")]
    [InlineData("install")]
    public void What_takes_long_can_be_read_meanwhile(string page)
    {
        using var owner = new Chromium();
        owner.SignIn(stage);
        owner.Go($"{stage.Desk}/s/{stage.World.Site.Key}/{page}");
        owner.See("h1, main");
        owner.Slow(1_500);
        owner.Driver.Navigate().Refresh();
        owner.See("[role=status]");
        owner.AxeFindsNothing();
    }

    [Fact]
    public void A_brief_is_written_and_published_without_a_pointer()
    {
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/s/{stage.World.Site.Key}/callouts");
        var keys = new Keyboard(owner);
        keys.To("button[aria-haspopup=menu]:not([aria-label])", "New callout").Press(Keys.Enter);
        owner.SeeText("What suits this site best stands first");
        keys.Until("Notice").Press(Keys.Enter);
        owner.SeeText("Your news in a few words");
        keys.To("[data-phrase='say.message']").Press(Keys.Enter);
        owner.Wait(
            () => keys.Focused.GetAttribute("class")?.Contains("sentence-field") == true ? "there" : null,
            "focus in the message"
        );
        keys.Press(Keys.Control + "a").Press("Kiln open on Friday");
        keys.Press(Keys.Escape);
        owner.SeeText("Kiln open on Friday");
        owner.SeeText("Draft saved");
        keys.To("button", "Publish").Press(Keys.Enter);
        owner.SeeText("Publish now");
        keys.To("button", "Publish now").Press(Keys.Enter);
        owner.SeeText("Live as revision 1");
        Assert.Empty(owner.Errors());
    }

    /// <summary>A person who has a keyboard and nothing else.</summary>
    private sealed class Keyboard(Chromium owner)
    {
        private const int MostSteps = 120;

        public IWebElement Focused => owner.Driver.SwitchTo().ActiveElement();

        public Keyboard Press(string keys)
        {
            new Actions(owner.Driver).SendKeys(keys).Perform();
            return this;
        }

        /// <summary>Goes on by Tab until what is meant has the focus.</summary>
        public Keyboard To(string css, string words = "")
        {
            for (var step = 0; step < MostSteps; step++)
            {
                var found = (bool)
                    owner.Driver.ExecuteScript(
                        "const e = document.activeElement; return e.matches(arguments[0]) && (!arguments[1] || e.textContent.trim().startsWith(arguments[1]))",
                        css,
                        words
                    )!;
                if (found)
                    return this;
                Press(Keys.Tab);
            }
            throw new NoSuchElementException($"Tab never came to {css} {words}");
        }

        /// <summary>Goes down a menu until the entry that begins so has the focus.</summary>
        public Keyboard Until(string words)
        {
            for (var step = 0; step < MostSteps; step++)
            {
                if (Focused.Text.StartsWith(words, StringComparison.Ordinal))
                    return this;
                Press(Keys.ArrowDown);
            }
            throw new NoSuchElementException($"No entry of the menu is {words}");
        }
    }
}
