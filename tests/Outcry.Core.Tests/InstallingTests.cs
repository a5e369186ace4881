using NodaTime;
using Outcry.Core.Installing;
using Outcry.Core.Pages;

namespace Outcry.Core.Tests;

public sealed class InstallingTests
{
    private static readonly Instant Now = Instant.FromUtc(2015, 11, 24, 12, 0);

    private static HearingState Judge(double? heard, double? fetched, double? refused)
    {
        Instant? Ago(double? minutes) => minutes is { } m ? Now - Duration.FromMinutes(m) : null;
        return Hearing.Judge(new Traces(Ago(heard), Ago(fetched), Ago(refused)), Now);
    }

    [Fact]
    public void Nothing_seen_is_waiting() => Assert.Equal(HearingState.Waiting, Judge(null, null, null));

    [Fact]
    public void A_word_within_a_day_is_heard_and_after_it_stale()
    {
        Assert.Equal(HearingState.Heard, Judge(1, 1, null));
        Assert.Equal(HearingState.Heard, Judge(24 * 60 - 1, null, null));
        Assert.Equal(HearingState.Stale, Judge(24 * 60, null, null));
    }

    [Fact]
    public void Fetched_and_silent_is_blocked_once_it_has_had_time_to_speak()
    {
        Assert.Equal(HearingState.Waiting, Judge(null, 0.1, null));
        Assert.Equal(HearingState.Blocked, Judge(null, 0.25, null));
        Assert.Equal(HearingState.Blocked, Judge(2000, 1, null));
        Assert.Equal(HearingState.Waiting, Judge(null, 31, null));
    }

    [Fact]
    public void A_word_from_a_wrong_host_is_told_unless_the_right_one_spoke_since()
    {
        Assert.Equal(HearingState.WrongHost, Judge(null, 1, 1));
        Assert.Equal(HearingState.WrongHost, Judge(5, 1, 1));
        Assert.Equal(HearingState.Heard, Judge(1, 1, 5));
        Assert.Equal(HearingState.Heard, Judge(60, 1, 31));
    }

    private static readonly Uri Desk = new("https://desk.example");

    [Theory]
    [InlineData(null, null)]
    [InlineData("img-src 'self'", null)]
    [InlineData("default-src 'self'", "default-src")]
    [InlineData("default-src *", null)]
    [InlineData("script-src 'self'; connect-src *", "script-src")]
    [InlineData("script-src https://desk.example; connect-src 'self'", "connect-src")]
    [InlineData("script-src desk.example; connect-src https:", null)]
    [InlineData("script-src *.example; connect-src *.example", null)]
    [InlineData("script-src http://desk.example; connect-src *", "script-src")]
    [InlineData("script-src https://desk.example:8443; connect-src *", "script-src")]
    [InlineData("script-src-elem 'self'; script-src *; connect-src *", "script-src-elem")]
    [InlineData("script-src *; connect-src *, connect-src 'none'", "connect-src")]
    public void A_policy_that_stands_in_the_way_is_named(string? policy, string? directive) =>
        Assert.Equal(directive, ScriptPolicy.Blocks(policy, Desk));

    [Theory]
    [InlineData("/quote/thanks")]
    [InlineData("/journal/*")]
    [InlineData("/journal/**")]
    [InlineData("/**/thanks")]
    [InlineData("/shop/*-mug")]
    [InlineData("/")]
    [InlineData("/**")]
    [InlineData("/a.b+(c)")]
    public void A_pattern_means_the_same_pages_as_the_expression_the_browser_is_given(string text)
    {
        var pattern = PagePattern.Parse(text);
        var expression = new System.Text.RegularExpressions.Regex(
            pattern.ToPathExpression(),
            System.Text.RegularExpressions.RegexOptions.ECMAScript
        );
        foreach (
            var path in new[]
            {
                "/",
                "/quote",
                "/quote/thanks",
                "/journal",
                "/journal/one",
                "/journal/one/two",
                "/thanks",
                "/a/b/thanks",
                "/shop/ash-mug",
                "/shop/mug",
                "/a.b+(c)",
                "/axb",
            }
        )
            Assert.Equal(pattern.Matches(PageAddress.TryAt("x.example", path)!), expression.IsMatch(path));
    }
}
