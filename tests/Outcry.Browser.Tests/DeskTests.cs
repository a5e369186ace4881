using OpenQA.Selenium;
using Outcry.Tests.World;

namespace Outcry.Browser.Tests;

[Collection("one browser at a time")]
public sealed class DeskTests(Stage stage)
{
    [Fact]
    public async Task A_newsletter_form_stands_in_the_ledger_without_a_reload()
    {
        await stage.PutLiveAsync("Letters", b => b, stage.World.Newsletter);
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/ledger?hours=24");
        owner.See("h1");
        await Task.Delay(800);
        using var visitor = new Chromium();
        visitor.Go($"{stage.Site}/journal");
        visitor.WaitForSnippet();
        visitor.Type("#newsletter input[name=first_name]", "Anselm");
        visitor.Type("#newsletter input[name=email]", "anselm@post.example");
        visitor.ClickText("Send me letters");
        visitor.SeeText("Welcome");
        owner.SeeText("Anselm signed up", "main");
        Assert.DoesNotContain("anselm@post", owner.Driver.PageSource, StringComparison.Ordinal);
    }

    [Fact]
    public void The_install_mark_turns_green_by_itself_and_the_member_sees_the_private_mark()
    {
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/install");
        owner.SeeText("<script async src=\"" + stage.Desk);
        owner.ClickText("Open my site");
        var url = owner.Wait(
            () => owner.Driver.FindElements(By.LinkText("open it here")).FirstOrDefault()?.GetAttribute("href"),
            "the signed link"
        );
        using var member = new Chromium();
        member.Go(url);
        var mark = member.Wait(
            () =>
                member
                    .Driver.FindElements(By.CssSelector("outcry-mark"))
                    .FirstOrDefault()
                    ?.GetShadowRoot()
                    .FindElements(By.CssSelector(".mark"))
                    .FirstOrDefault(),
            "the private mark"
        );
        Assert.Contains("Only you see this", mark.Text, StringComparison.Ordinal);
        Assert.DoesNotContain("outcry=", member.Driver.Url, StringComparison.Ordinal);
        owner.SeeText("The snippet is heard");
        using var visitor = new Chromium();
        visitor.Go(stage.Site + "/");
        visitor.WaitForSnippet();
        Assert.Empty(visitor.Driver.FindElements(By.CssSelector("outcry-mark")));
    }

    [Fact]
    public async Task An_owner_writes_looks_publishes_and_pauses()
    {
        using var buyer = new Chromium();
        buyer.Buy(stage, "speckled-plate", "Leila", "Bensalem");
        await stage.PutLiveAsync("Other", b => b);
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts");
        owner.ClickText("New callout");
        owner.ClickText("One real event", "div[@role='menuitem']");
        owner.SeeText("no source yet");
        owner.ClickText("no source yet", "span[@role='button']");
        owner.ClickText("Checkout", "label");
        Done(owner);
        owner.ClickText("bought", "span[@role='button']");
        owner.WriteMessage("{{ first_name }} likes {{ product }} {{ shoe_size }}");
        owner.SeeText("Nothing is called \"shoe_size\"");
        owner.WriteMessage("{{ first_name }} likes {{ product }}");
        Done(owner);
        owner.ClickText("3 events", "span[@role='button']");
        owner.Type("input[type=number]", "1");
        Done(owner);
        owner.ClickText("every page", "span[@role='button']");
        owner.Type("input[name=pattern]", "/**");
        owner.ClickText("Add");
        Done(owner);
        owner.SeeText("Draft saved");
        owner.SeeText("likes Speckled plate", "[aria-label=Evidence]");
        owner.Driver.SwitchTo().Frame(owner.See("iframe"));
        owner.Wait(
            () => owner.FindSlip()?.Text.Contains(" likes ", StringComparison.Ordinal) == true ? "shown" : null,
            "the draft's words on the stage"
        );
        owner.Driver.SwitchTo().DefaultContent();
        owner.ClickText("Publish");
        owner.ClickText("Publish now");
        owner.SeeText("Live as revision 1");
        owner.ClickText("Pause");
        owner.SeeText("Paused.");
        Assert.Empty(owner.Errors());
    }

    // What is wrong with a brief stands under its sentence and moves the rest, so the next click waits for the save.
    private static void Done(Chromium owner)
    {
        owner.ClickText("Done");
        owner.SeeText("Draft saved");
    }

    [Fact]
    public async Task An_editor_is_told_who_may_publish()
    {
        var callout = await stage.PutLiveAsync("For the editor", b => b);
        using var editor = new Chromium();
        editor.SignIn(stage, TestWorld.EditorEmail).Go($"{stage.Desk}/callouts/{callout}");
        editor.ClickText("Publish");
        editor.SeeText("Your role may draft");
        Assert.Empty(editor.Driver.FindElements(By.XPath("//button[normalize-space(.)='Pause']")));
    }

    [Fact]
    public async Task The_composer_works_by_keyboard_alone()
    {
        var callout = await stage.PutLiveAsync("By keyboard", b => b);
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts/{callout}");
        var phrase = owner.Wait(
            () => owner.Driver.FindElement(By.CssSelector("[data-phrase='when.triggers']")),
            "the phrase"
        );
        owner.Driver.ExecuteScript("arguments[0].focus()", phrase);
        phrase.SendKeys(Keys.Enter);
        owner
            .Wait(
                () => owner.Driver.SwitchTo().ActiveElement() is { TagName: "select" } e ? e : null,
                "focus on the condition's kind"
            )
            .SendKeys(Keys.Tab + Keys.Tab);
        var focused = owner.Wait(
            () => owner.Driver.SwitchTo().ActiveElement() is { TagName: "input" } e ? e : null,
            "focus in the editor"
        );
        focused.SendKeys(Keys.Control + "a");
        focused.SendKeys("9");
        owner.SeeText("9 seconds after arrival");
        focused.SendKeys(Keys.Escape);
        owner.Wait(
            () =>
                owner.Driver.SwitchTo().ActiveElement().GetAttribute("data-phrase") == "when.triggers" ? "back" : null,
            "focus back on the phrase"
        );
        owner.SeeText("Draft saved");
    }

    [Fact]
    public async Task A_replay_tells_whom_a_draft_would_have_reached()
    {
        var notice = Core.Briefs.StarterBrief.For(Core.Briefs.CalloutKind.Notice, Core.Evidence.EventKind.Purchase, []);
        var callout = await stage.PutLiveAsync(
            "To be replayed",
            _ => notice with { Say = notice.Say with { Message = "The kiln opens at nine" } }
        );
        using (var visitor = new Chromium())
        {
            visitor.Go($"{stage.Site}/studio");
            visitor.WaitForSnippet();
            await Task.Delay(2_500);
            // A page of a page group, so that there is something to tell by group.
            visitor.Go($"{stage.Site}/shop");
            visitor.WaitForSnippet();
        }
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts/{callout}");
        owner.ClickText("Replay");
        owner.SeeText("would have met it", "[aria-label=Replay]");
        owner.SeeText("Replay again");
        owner.SeeText("By page group and day", "[aria-label=Replay]");
        owner.AxeFindsNothing();
        Assert.Empty(owner.Errors());
    }

    [Fact]
    public async Task House_rules_and_built_in_words_are_set_beside_the_run_sheet()
    {
        using var owner = new Chromium();
        owner.SignIn(stage).Go(stage.Desk + "/");
        owner.ClickText("House rules");
        owner.Fill("Keep clear of", "#never-there", "aside");
        owner.ClickText("Save house rules");
        owner.SeeText("In force now", "aside");
        owner.Fill("Keep clear of", "<b>", "aside");
        owner.ClickText("Save house rules");
        owner.SeeText("not markup", "aside");
        owner.Choose("Language", "German", "aside");
        owner.Fill("The close mark, for screen readers", "Weg damit", "aside");
        owner.ClickText("Say it like this");
        owner.SeeText("Said like this", "aside");
        owner.AxeFindsNothing();
        var site = await Task.Run(() => stage.Sites.GetById(stage.World.Site.Id));
        Assert.Equal("#never-there", site.Rules.KeepClear);
    }

    [Theory]
    [InlineData("/")]
    [InlineData("/callouts")]
    [InlineData("/callouts?text=nothing+has+these+words")]
    [InlineData("/rehearsal")]
    [InlineData("/audience")]
    [InlineData("/audience?id=new")]
    [InlineData("/audience?view=visitors")]
    [InlineData("/audience?view=groups")]
    [InlineData("/audience?view=groups&id=new")]
    [InlineData("/?persona=closedOne&device=phone&at=2015-01-01T10:00")]
    [InlineData("/ledger")]
    [InlineData("/install")]
    public async Task Axe_finds_nothing_on_a_screen(string path)
    {
        await stage.PutLiveAsync("For axe", b => b);
        using var owner = new Chromium();
        owner.SignIn(stage).Go(stage.Desk + path);
        owner.See("h1");
        await Task.Delay(1_000);
        owner.AxeFindsNothing();
        Assert.Empty(owner.Errors());
    }

    [Fact]
    public async Task A_run_sheet_whose_segment_is_gone_says_so_and_can_be_put_right()
    {
        await stage.PutLiveAsync("Still here", b => b);
        using var owner = new Chromium();
        owner.SignIn(stage).Go($"{stage.Desk}/?segment=00000000-0000-0000-0000-000000000001");
        owner.SeeText("This segment is gone.");
        owner.AxeFindsNothing();
        owner.Click("button[aria-label^='Segment']");
        owner.ClickText("any segment", "div[@role='menuitemradio']");
        owner.SeeText("still on the page");
    }

    [Fact]
    public async Task Axe_finds_nothing_in_the_composer_with_an_editor_open_nor_at_the_door()
    {
        var callout = await stage.PutLiveAsync("For axe", b => b);
        using var owner = new Chromium();
        owner.Go(stage.Desk + "/").See("h1");
        owner.AxeFindsNothing();
        owner.SignIn(stage).Go($"{stage.Desk}/callouts/{callout}");
        foreach (var phrase in new[] { "say.message", "from.conditions", "where", "look.colours" })
        {
            owner.Click($"[data-phrase='{phrase}']");
            await Task.Delay(500);
            owner.AxeFindsNothing();
        }
    }
}
