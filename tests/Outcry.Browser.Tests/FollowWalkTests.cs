using OpenQA.Selenium;
using Outcry.Tests.Shared;

namespace Outcry.Browser.Tests;

/// <summary>A follow-up as its author meets it: begun, written with keys, rehearsed, published; and a group of the team.</summary>
[Collection("one browser at a time")]
public sealed class FollowWalkTests(Stage stage)
{
    [Fact]
    public void A_follow_up_is_written_line_by_line_rehearsed_and_published()
    {
        using var browser = new Chromium();
        browser.SignIn(stage).Go($"{stage.Desk}/leads");
        browser.ClickText("Follow-ups");
        browser.ClickText("New follow-up");
        browser.SeeText("Stops publishing: Choose the prompt or the script whose yes it follows.");
        browser.AxeFindsNothing();
        // After a tag, in place of a yes.
        browser.Click("[aria-label^='By what they come in']");
        browser.Click("//*[@role='menuitemradio'][.='is given a tag']");
        browser.Type("[aria-label='The tag']", "walked");
        browser.Type("[aria-label='Subject of step 2']", "Hello {{ first_name }}");
        browser.Fill("Text", "A first paragraph.\n\nAnd a second.");
        browser.AxeFindsNothing();
        browser.Type("[aria-label='Subject of step 4']", "The last one");
        browser.Fill("Text", "No more after this.");
        // The calendar follows what is written: Mira is imagined.
        browser.SeeText("Hello Mira");
        browser.SeeText("And a second.");
        browser.SeeText("day 2");
        browser.SeeText("day 5");
        browser.SeeText("Nothing stands in the way of publishing");
        // By keys: a line below, and the same a place up.
        var last = browser.See("[aria-label='Subject of step 4']");
        last.SendKeys(Keys.Enter);
        browser.See("[aria-label='How long step 5 waits']");
        browser.SeeText("Nothing comes after this wait.");
        browser.Wait(
            () =>
                browser.Driver.SwitchTo().ActiveElement().GetAttribute("aria-label") == "How long step 5 waits"
                    ? ""
                    : null,
            "the focus in the new line"
        );
        browser.Driver.SwitchTo().ActiveElement().SendKeys(Keys.Alt + Keys.ArrowUp);
        browser.See("[aria-label='How long step 4 waits']");
        browser.See("[aria-label='Subject of step 5']");
        browser.ClickText("Publish");
        browser.ClickText("Publish now");
        browser.SeeText("Live as revision 1.");
        browser.Go($"{stage.Desk}/followups");
        browser.SeeText("A new follow-up");
        browser.AxeFindsNothing();
        Assert.Empty(browser.Errors());
    }

    [Fact]
    public void A_script_is_put_away_found_there_and_taken_back_as_is_one_that_was_deleted()
    {
        using var browser = new Chromium();
        browser.SignIn(stage).Go($"{stage.Desk}/scripts");
        browser.ClickText("New script");
        browser.Click("//*[@role='menuitem'][contains(., 'Take a complaint')]");
        browser.Wait(
            () => browser.Driver.Url.Contains("/scripts/", StringComparison.Ordinal) ? "there" : null,
            "the new script's page"
        );
        browser.Go($"{stage.Desk}/scripts");
        browser.Click("button[aria-label='More for Take a complaint']");
        browser.Click("//*[@role='menuitem'][.='Archive']");
        browser.SeeText("Archived “Take a complaint”");
        browser.Click("[aria-label^='Which scripts']");
        browser.Click("//*[@role='menuitemradio'][.='archived ones']");
        browser.Click("button[aria-label='More for Take a complaint']");
        browser.Click("//*[@role='menuitem'][.='Delete']");
        Gone();
        browser.Click("[aria-label^='Which scripts']");
        browser.Click("//*[@role='menuitemradio'][.='deleted ones']");
        browser.SeeText("gone for good on");
        browser.AxeFindsNothing();
        browser.Click("button[aria-label='More for Take a complaint']");
        browser.Click("//*[@role='menuitem'][.='Take back']");
        Gone();
        Assert.Empty(browser.Errors());

        // Other tests may have left scripts of their own on that shelf.
        void Gone() =>
            browser.Wait(
                () =>
                    browser.Driver.FindElements(By.CssSelector("button[aria-label='More for Take a complaint']")).Count
                    == 0
                        ? "gone"
                        : null,
                "it to be gone from the list"
            );
    }

    [Fact]
    public void A_group_is_made_a_script_hands_over_to_it_and_it_is_ended()
    {
        using var browser = new Chromium();
        browser.SignIn(stage).Go($"{stage.Desk}/team");
        var name = $"Glazes {Guid.NewGuid():N}"[..14];
        browser.ClickText("New group");
        browser.Fill("Name", name, "[aria-label='New group']");
        browser.Click("//form[@aria-label='New group']//label[contains(., 'Marta Quill')]");
        browser.AxeFindsNothing();
        browser.ClickText("Make the group");
        browser.See($"[aria-label='Change the group {name}']");
        browser.Go($"{stage.Desk}/scripts");
        browser.ClickText("New script");
        browser.Click("//*[@role='menuitem'][.='Book a time']");
        browser.Click("[aria-label='Step 1, all of it']");
        browser.SeeText("The replies are the times that are free");
        browser.SeeText("What is booked");
        browser.AxeFindsNothing();
        var hand = browser.Wait(
            () =>
                browser
                    .Driver.FindElements(By.CssSelector("select[aria-label^='What step']"))
                    .FirstOrDefault(s => s.GetAttribute("value") == "handOver"),
            "a step that hands over"
        );
        hand.FindElement(By.XPath("./ancestor::li//button[contains(@aria-label, 'all of it')]")).Click();
        browser.Choose("To", $"the group {name}");
        browser.SeeText("Steps that stand deeper below it are taken when nobody of them is here.");
        browser.AxeFindsNothing();
        browser.Go($"{stage.Desk}/team");
        browser.Click($"[aria-label='Change the group {name}']");
        browser.ClickText("End this group");
        browser.SeeText("is no more");
        Assert.Empty(browser.Errors());
    }
}
