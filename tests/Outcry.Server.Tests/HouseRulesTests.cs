using System.Text.Json;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Store;

namespace Outcry.Server.Tests;

public sealed class HouseRulesTests(TestDesk desk)
{
    private string Api => $"/api/sites/{desk.OtherSite.Id}/house-rules";

    // The second workspace's site, so that no other test is held to these rules.
    private async Task<(HttpStatusCode Status, JsonElement Body)> PutAsync(
        HouseRules rules,
        HouseRules? seen = null,
        DeskClient? member = null
    ) =>
        await (member ?? await desk.StrangerAsync()).SendAsync(
            HttpMethod.Put,
            Api,
            new { rules = Json(rules), seen = Json(seen ?? await NowAsync()) }
        );

    private static JsonElement Json(HouseRules rules) => JsonSerializer.SerializeToElement(rules, JsonColumn.Options);

    private async Task<HouseRules> NowAsync()
    {
        var sites = await (await desk.StrangerAsync()).GetAsync("/api/sites");
        return sites
            .EnumerateArray()
            .Single(s => s.GetProperty("id").GetGuid() == desk.OtherSite.Id)
            .GetProperty("rules")
            .Deserialize<HouseRules>(JsonColumn.Options)!;
    }

    [Fact]
    public async Task House_rules_hold_at_once_and_are_not_overwritten_unseen()
    {
        var before = await NowAsync();
        var rules = before with
        {
            MostAtOnce = 2,
            GapSeconds = 15,
            MostPerVisit = 4,
            PatienceSeconds = 30,
            QuietPages = [" /cart ", "", "/cart", "/checkout/**"],
            ConsentNotice = " #cookies ",
        };
        var (status, saved) = await PutAsync(rules);
        Assert.Equal(HttpStatusCode.OK, status);
        var kept = saved.GetProperty("rules").Deserialize<HouseRules>(JsonColumn.Options)!;
        Assert.Equal(["/cart", "/checkout/**"], kept.QuietPages);
        Assert.Equal(("#cookies", 15), (kept.ConsentNotice, kept.GapSeconds));

        var (late, problem) = await PutAsync(before, seen: before);
        Assert.Equal(HttpStatusCode.Conflict, late);
        Assert.Equal("urn:outcry:problem:rules-changed", problem.Text("type"));
        Assert.Equal(15, (await NowAsync()).GapSeconds);
    }

    [Theory]
    [InlineData("mostAtOnce")]
    [InlineData("gapSeconds")]
    [InlineData("mostPerVisit")]
    [InlineData("patienceSeconds")]
    [InlineData("quietPages")]
    [InlineData("consentNotice")]
    [InlineData("keepClear")]
    public async Task A_rule_that_makes_no_sense_is_refused_by_its_name(string field)
    {
        var start = HouseRules.Start;
        var (status, problem) = await PutAsync(
            field switch
            {
                "mostAtOnce" => start with { MostAtOnce = 6 },
                "gapSeconds" => start with { GapSeconds = -1 },
                "mostPerVisit" => start with { MostPerVisit = 0 },
                "patienceSeconds" => start with { PatienceSeconds = 601 },
                "quietPages" => start with { QuietPages = ["not a page"] },
                "consentNotice" => start with { ConsentNotice = "<div>" },
                _ => start with { KeepClear = new string('a', 301) },
            }
        );
        Assert.Equal((HttpStatusCode.BadRequest, field), (status, problem.Text("field")));
    }

    [Fact]
    public async Task Editors_do_not_change_house_rules()
    {
        var editor = await desk.EditorAsync();
        var (status, _) = await editor.SendAsync(
            HttpMethod.Put,
            $"/api/sites/{desk.World.Site.Id}/house-rules",
            new { rules = Json(HouseRules.Start), seen = Json(HouseRules.Start) }
        );
        Assert.Equal(HttpStatusCode.Forbidden, status);
    }

    [Fact]
    public async Task Built_in_words_are_said_as_the_site_says_them()
    {
        var member = await desk.StrangerAsync();
        var words = $"/api/sites/{desk.OtherSite.Id}/words";
        var (status, saved) = await member.SendAsync(
            HttpMethod.Put,
            $"{words}/de",
            new
            {
                words = new
                {
                    close = " Weg damit ",
                    from = "von {0}",
                    why = "",
                },
            }
        );
        Assert.Equal(HttpStatusCode.OK, status);
        JsonElement Word(JsonElement of, string key) =>
            of.GetProperty("words").EnumerateArray().Single(w => w.Text("key") == key);
        Assert.Equal(
            ("Weg damit", "Schließen"),
            (Word(saved, "close").Text("own"), Word(saved, "close").Text("shipped"))
        );
        Assert.Equal("", Word(saved, "why").Text("own"));
        var again = await member.GetAsync($"{words}/de");
        Assert.Equal("von {0}", Word(again, "from").Text("own"));
        Assert.Equal("", Word(await member.GetAsync($"{words}/fr"), "close").Text("own"));
    }

    [Theory]
    [InlineData("de", "from", "aus", "from")]
    [InlineData("de", "close", "{0} zu", "close")]
    [InlineData("de", "close", "a\nb", "close")]
    [InlineData("de", "nothing", "x", "words")]
    [InlineData("not a tag", "close", "x", "language")]
    public async Task A_word_that_cannot_be_said_is_refused(string language, string key, string text, string field)
    {
        var (status, problem) = await (await desk.StrangerAsync()).SendAsync(
            HttpMethod.Put,
            $"/api/sites/{desk.OtherSite.Id}/words/{language}",
            new { words = new Dictionary<string, string> { [key] = text } }
        );
        Assert.Equal((HttpStatusCode.BadRequest, field), (status, problem.Text("field")));
    }
}
