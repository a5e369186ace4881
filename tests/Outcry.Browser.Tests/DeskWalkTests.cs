using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Targeting;
using Outcry.Tests.World;

namespace Outcry.Browser.Tests;

/// <summary>The desk as a marketer walks it: the run sheet, rehearsals, the audience, the list, a trial visit.</summary>
[Collection("one browser at a time")]
public sealed class DeskWalkTests(Stage stage)
{
    // A notice needs no event, so that it comes on at once wherever it is for.
    private static Brief Notice(string words, string page = "/studio")
    {
        var brief = StarterBrief.For(CalloutKind.Notice, EventKind.Purchase, []);
        return brief with
        {
            Say = brief.Say with { Message = words },
            Where = new WhereFacet([page], [], [], Replaces: false),
        };
    }

    private Task<Guid> NoticeAsync(string name, string page = "/shop") =>
        stage.PutLiveAsync(name, _ => Notice($"{name}, says the pottery", page));

    [Fact]
    public async Task The_run_sheet_works_by_keyboard_alone_up_to_publishing_what_was_tried_out()
    {
        var callout = await NoticeAsync("By the clock");
        using var owner = new Chromium();
        owner.SignIn(stage).Go(stage.Desk + "/");
        var cue = owner.See($"[data-cue='{callout}']");
        owner.Driver.ExecuteScript("arguments[0].focus()", cue);
        cue.SendKeys(Keys.Alt + Keys.ArrowRight);
        owner.SeeText("Let it wait 2 s instead of 1");
        owner.SeeText("moves \"By the clock\" from 0:01 to 0:02");
        owner.AxeFindsNothing();
        // Escape gives it up; what is live has never changed.
        var bar = owner.See("[aria-label='A change tried out'] button");
        bar.SendKeys(Keys.Escape);
        owner.SeeNot("Tried out, not live");

        cue = owner.See($"[data-cue='{callout}']");
        owner.Driver.ExecuteScript("arguments[0].focus()", cue);
        cue.SendKeys(Keys.Alt + Keys.Shift + Keys.ArrowRight);
        owner.SeeText("Let it wait 6 s instead of 1");
        owner.See("[aria-label='A change tried out'] button").SendKeys(Keys.Enter);
        owner.SeeNot("Tried out, not live");
        var published = await Task.Run(() =>
            stage.Sites.GetById(stage.World.Site.Id).Callouts.Single(c => c.Id == callout)
        );
        Assert.Equal((2, 6), (published.Revision, published.Targeting.Triggers[0].Number));
        Assert.Empty(owner.Errors());
    }

    [Fact]
    public async Task A_block_is_dragged_to_another_moment_and_the_sheet_says_what_that_does()
    {
        var callout = await NoticeAsync("Dragged");
        using var owner = new Chromium();
        owner.SignIn(stage).Go(stage.Desk + "/");
        var cue = owner.See($"[data-cue='{callout}']");
        new Actions(owner.Driver).ClickAndHold(cue).MoveByOffset(60, 0).MoveByOffset(60, 0).Release().Perform();
        owner.SeeText("Tried out, not live");
        Assert.Contains("trying=wait.", owner.Driver.Url, StringComparison.Ordinal);
        // A click without a drag opens the block.
        owner.Click($"[data-cue='{callout}']");
        owner.SeeText("Open brief", "aside");
        owner.AxeFindsNothing();
    }

    [Fact]
    public async Task A_rehearsal_is_built_by_clicking_pages_and_tells_what_one_changed_fact_changes()
    {
        await NoticeAsync("For desktops", "/shop");
        using var owner = new Chromium();
        owner.SignIn(stage).Go(stage.Desk + "/rehearsal");
        owner.See("input[placeholder='Filter, or type a path']").SendKeys("/shop" + Keys.Enter);
        owner.SeeText("This visit meets 1 callout.");
        owner.ClickText("new visitor");
        owner.Fill("This is visit", "2", "[role=dialog]");
        owner.Click("//label[contains(., 'met every callout then')]");
        owner.SeeText("That fact");
        owner.AxeFindsNothing();
        owner.See("[role=dialog]").SendKeys(Keys.Escape);
        owner.ClickText("Undo the change");
        owner.SeeNot("That fact");
        owner.ClickText("Why not", "button");
        Assert.Empty(owner.Errors());
    }

    [Fact]
    public async Task A_step_back_brings_the_draft_back_and_a_revision_is_compared_word_by_word()
    {
        var callout = await NoticeAsync("Once more");
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts/{callout}?open=say");
        owner.WriteMessage("Something quite different");
        owner.SeeText("Something quite different", "[aria-label=Say] p");
        owner.ClickText("Revisions");
        owner.SeeText("From revision 1 to the draft as it stands");
        owner.Wait(
            () => owner.Driver.FindElements(By.CssSelector("aside del")).FirstOrDefault(),
            "the words that went"
        );
        owner.AxeFindsNothing();
        StepUntil(owner, "Once more, says the pottery", forth: false);
        owner.SeeText("The draft says what this revision says.");
        StepUntil(owner, "Something quite different", forth: true);
        owner.ClickText("Bring revision 1 back");
        owner.SeeText("Once more, says the pottery", "[aria-label=Say] p");
        owner.SeeText("No unpublished changes");
    }

    /// <summary>Where the machine types slowly, what was typed at one go is several steps of undo: each is taken, one at a time.</summary>
    private static void StepUntil(Chromium owner, string text, bool forth)
    {
        const string said = "[aria-label=Say] p";
        string Now() => owner.See(said).Text;
        for (var steps = 0; steps < 30 && !Now().Contains(text, StringComparison.Ordinal); steps++)
        {
            var before = Now();
            var keys = new Actions(owner.Driver).KeyDown(Keys.Control);
            keys = forth ? keys.KeyDown(Keys.Shift).SendKeys("z").KeyUp(Keys.Shift) : keys.SendKeys("z");
            keys.KeyUp(Keys.Control).Perform();
            // A step may take back only a space, which nobody sees: so it is waited for, and not insisted on.
            for (var looks = 0; looks < 20 && Now() == before; looks++)
            {
                Thread.Sleep(100);
            }
        }
        owner.SeeText(text, said);
    }

    [Fact]
    public async Task Two_of_the_team_at_one_brief_see_each_other_and_where_each_is_at_work()
    {
        var callout = await NoticeAsync("SiteContext work");
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts/{callout}");
        owner.SeeText("Rehearsal");
        using var editor = new Chromium();
        editor.SignIn(stage, TestWorld.EditorEmail).Go($"{stage.Desk}/callouts/{callout}?open=who");
        owner.SeeText("Teo Brandt is here");
        editor.SeeText("Marta Quill is here");
        owner.See("[aria-label=Who] [title='Teo Brandt is here']");
        owner.AxeFindsNothing();
        editor.Go(stage.Desk + "/ledger");
        owner.SeeNot("Teo Brandt is here");
    }

    [Fact]
    public async Task Why_nothing_shows_is_answered_with_the_control_that_changes_it()
    {
        var callout = await NoticeAsync("Nowhere", "/a-page-nobody-knows");
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts/{callout}");
        owner.Click("//section[@aria-label='Why is it not showing?']//button");
        owner.SeeText(
            "Nobody has looked at a page it is for in the last 30 days.",
            "[aria-label='Why is it not showing?']"
        );
        owner.Click("//section[@aria-label='Why is it not showing?']//a");
        owner.Wait(
            () => owner.Driver.Url.Contains("open=where", StringComparison.Ordinal) ? "there" : null,
            "the control's address"
        );
    }

    [Fact]
    public async Task A_trial_visit_is_walked_from_the_brief_and_what_is_pointed_at_there_comes_back_to_it()
    {
        var callout = await NoticeAsync("Only on trial");
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts/{callout}");
        owner.SeeText("Rehearsal");
        owner.ClickText("Start a trial visit");
        owner.ClickText("With limits lifted", "div[@role='menuitem']");
        var deskTab = owner.Driver.CurrentWindowHandle;
        var siteTab = owner.Wait(() => owner.Driver.WindowHandles.FirstOrDefault(h => h != deskTab), "the site's tab");
        owner.Driver.SwitchTo().Window(siteTab);
        var panel = owner.Wait(() => Panel(owner), "the private panel");
        owner.Wait(
            () =>
                Panel(owner)?.Text is { } t
                && t.Contains("Only on trial", StringComparison.Ordinal)
                && t.Contains("was shown", StringComparison.Ordinal)
                    | t.Contains("on screen now", StringComparison.Ordinal)
                    ? "seen"
                    : null,
            "the callout on the panel, shown"
        );
        owner.AxeFindsNothing();
        Assert.DoesNotContain("outcry=", owner.Driver.Url, StringComparison.Ordinal);
        panel.FindElements(By.CssSelector(".acts button"))[0].Click();
        owner.Driver.FindElement(By.CssSelector("h1")).Click();
        owner.Wait(
            () => Panel(owner)?.Text.Contains("is at the desk now", StringComparison.Ordinal) == true ? "told" : null,
            "what the panel says of the element"
        );
        owner.Driver.SwitchTo().Window(deskTab);
        owner.Click("[data-phrase='when.triggers']");
        owner.Click("select[aria-label='Condition 1'] option[value='inView']");
        owner.SeeText("pointed at");
        owner.Click("//button[.//code]");
        owner.SeeText("comes into view", "[aria-label=When] p");

        // Ended, the tab is an ordinary visitor's again.
        owner.Driver.SwitchTo().Window(siteTab);
        Panel(owner)!.FindElements(By.CssSelector(".acts button"))[1].Click();
        owner.WaitForSnippet();
        Assert.Null(Panel(owner));
    }

    private static IWebElement? Panel(Chromium browser) =>
        browser
            .Driver.FindElements(By.CssSelector("outcry-trial"))
            .FirstOrDefault()
            ?.GetShadowRoot()
            .FindElements(By.CssSelector("aside"))
            .FirstOrDefault();

    [Fact]
    public async Task The_whole_site_is_silenced_by_one_switch_and_put_on_air_again()
    {
        await NoticeAsync("Loud", "/studio");
        using var owner = new Chromium();
        owner.SignIn(stage).Go(stage.Desk + "/callouts");
        owner.ClickText("On air");
        owner.ClickText("Take the whole site off air");
        owner.SeeText("by Marta Quill", "footer");
        try
        {
            using var visitor = new Chromium();
            visitor.Go($"{stage.Site}/studio");
            visitor.WaitForSnippet();
            await Task.Delay(2_000);
            Assert.Empty(visitor.Driver.FindElements(By.CssSelector("outcry-callouts")));
            owner.AxeFindsNothing();
        }
        finally
        {
            owner.ClickText("Off air");
            owner.ClickText("Put it on air again");
        }
        owner.SeeNot("by Marta Quill", "footer");
    }

    [Fact]
    public async Task Segments_and_page_groups_are_made_counted_and_removed_by_hand()
    {
        await NoticeAsync("Any", "/studio");
        using (var visitor = new Chromium())
        {
            visitor.Go($"{stage.Site}/studio");
            visitor.WaitForSnippet();
        }
        using var owner = new Chromium();
        owner.SignIn(stage).Go(stage.Desk + "/audience");
        owner.ClickText("New segment");
        owner.Fill("Name", "Here for the first time", "aside");
        owner.ClickText("Add a comparison");
        owner.SeeText(" of ", "aside");
        owner.ClickText("Keep the segment");
        owner.SeeText("Where it is used", "aside");
        owner.AxeFindsNothing();
        owner.ClickText("Remove the segment");
        owner.SeeNot("Here for the first time", "main");

        owner.Go(stage.Desk + "/audience?view=groups");
        owner.ClickText("New page group");
        owner.Fill("Name", "Studio", "aside");
        owner.See("aside input[name=pattern]").SendKeys("/studio" + Keys.Enter);
        owner.ClickText("Keep the page group");
        owner.SeeText("Studio", "table");
        owner.Click("//button[@aria-label='Move Studio up']");
        owner.ClickText("Remove the page group");
        owner.SeeNot("Studio", "table");
        Assert.Empty(owner.Errors());
    }

    [Fact]
    public async Task Several_callouts_are_paused_at_once_and_that_is_undone()
    {
        await NoticeAsync("One of them");
        using var owner = new Chromium();
        owner.SignIn(stage).Go(stage.Desk + "/callouts");
        owner.Click("input[aria-label='Choose One of them']");
        owner.AxeFindsNothing();
        owner.Click("//div[@aria-label='Chosen callouts']//button[contains(., 'Pause')]");
        owner.SeeText("Pause: 1 callout.");
        owner.SeeText("Paused", "table");
        owner.ClickText("Undo");
        owner.SeeText("Live", "table");
        owner.ClickText("Group");
        owner.See("input[name=group]").SendKeys("Winter" + Keys.Enter);
        owner.SeeText("Winter", "table");
    }

    [Fact]
    public async Task A_live_callout_is_archived_in_one_act_deleted_and_taken_back_again()
    {
        await NoticeAsync("To and fro");
        using var owner = new Chromium();
        // Other tests leave callouts, too: by its name it is on the first page of each list.
        owner.SignIn(stage).Go(stage.Desk + "/callouts?text=To+and+fro");
        Act("Take off air and archive");
        owner.SeeText("Taken off air and archived “To and fro”.");
        owner.ClickText("Undo");
        owner.SeeText("Live", "table");
        Act("Take off air and archive");
        // Whoever leaves sooner takes the act along with the page.
        owner.SeeText("Taken off air and archived “To and fro”.");
        owner.Go(stage.Desk + "/callouts?shelf=archived&text=To+and+fro");
        Act("Delete");
        owner.SeeText("Deleted “To and fro”.");
        owner.Go(stage.Desk + "/callouts?shelf=deleted&text=To+and+fro");
        owner.SeeText("gone for good on");
        owner.AxeFindsNothing();
        Act("Take back");
        owner.SeeText("Took back “To and fro”.");
        Assert.Empty(owner.Errors());

        void Act(string act)
        {
            owner.Click("button[aria-label='Acts on To and fro']");
            owner.ClickText(act, "div[@role='menuitem']");
        }
    }

    [Fact]
    public async Task A_picture_is_found_by_words_and_seen_by_visitors()
    {
        var callout = await NoticeAsync("Pictured", "/studio");
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts/{callout}");
        owner.Click("[data-phrase='say.picture']");
        owner.Click("//label[contains(., 'One picture for all')]");
        owner.See("input[type=search]").SendKeys("lorry moving");
        owner.Click("button[aria-label='Passing lorry, moving']");
        owner.SeeText("Chosen: Passing lorry");
        owner.AxeFindsNothing();
        owner.SeeText("Draft saved");
        owner.ClickText("Publish");
        owner.ClickText("Publish now");
        owner.SeeText("Live as revision 2");
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/studio");
        visitor.WaitForSnippet();
        visitor.Wait(
            () =>
                visitor.Driver.ExecuteScript(
                    "const i = document.querySelector('outcry-callouts')?.shadowRoot.querySelector('img'); return i && i.complete && i.naturalWidth ? i.src : null"
                ) as string,
            "the picture, loaded"
        );
    }

    [Fact]
    public async Task A_message_is_written_as_it_reads_by_keyboard_alone()
    {
        using var buyer = new Chromium();
        buyer.Buy(stage, "salt-jug", "Ines", "Caldeira");
        var callout = await stage.PutLiveAsync("Written", b => b);
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts/{callout}?open=say");
        var field = owner.See("[role=textbox].sentence-field");
        field.Click();
        Keyed(owner, Keys.Control, "a");
        field.SendKeys("Somebody, ");
        Keyed(owner, Keys.Control, "b");
        field.SendKeys("{");
        owner.See("[role=combobox][aria-label='Which field']").SendKeys("first" + Keys.Enter);
        field.SendKeys(" took a {");
        owner.See("[role=combobox][aria-label='Which field']").SendKeys("product" + Keys.ArrowUp + Keys.Enter);
        Keyed(owner, Keys.Control, "b");
        field.SendKeys("!");
        owner.SeeText("Somebody, ‹first name› took a ‹product›!", "[aria-label=Say] p");
        // The block beside the cursor is chosen with the arrow and says what stands for nothing.
        field.SendKeys(Keys.ArrowLeft + Keys.ArrowLeft);
        owner.ClickText("words of your own", "label");
        owner.Fill("Words", "a piece", "[aria-label='The chosen block']");
        owner.SeeText("product, else a piece", ".sentence-field");
        owner.ClickText("Text as kept");
        owner.Wait(
            () =>
                owner.See("textarea").GetAttribute("value")
                == "Somebody, **{{ first_name | default: someone }} took a {{ product | default: \"a piece\" }}**!"
                    ? "kept"
                    : null,
            "the message as it is kept"
        );
        owner.SeeText("As it reads for real events");
        owner.SeeText("the longest:");
        owner.AxeFindsNothing();
        owner.ClickText("Add a language");
        owner.See("input[aria-label='Which language']").SendKeys("Portuguese" + Keys.Enter);
        owner.See("[role=group][aria-label=Languages] button[aria-pressed=true]");
        owner.SeeText("Visitors who prefer Portuguese read this");
        owner.SeeText("also in Portuguese", "[aria-label=Say] p");
        owner.AxeFindsNothing();
        Assert.Empty(owner.Errors());
    }

    private static void Keyed(Chromium owner, string with, string key) =>
        new Actions(owner.Driver).KeyDown(with).SendKeys(key).KeyUp(with).Perform();
}
