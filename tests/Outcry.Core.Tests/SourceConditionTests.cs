using NodaTime;
using Outcry.Core.Sources;

namespace Outcry.Core.Tests;

/// <summary>How a source stands is judged from its last time, not guessed from one bad moment.</summary>
public sealed class SourceConditionTests
{
    private static readonly Instant Now = Instant.FromUtc(2015, 11, 24, 12, 0);

    private static SourceCondition Judge(
        Instant? last = null,
        Instant? refused = null,
        int day = 20,
        double? usual = 20,
        bool paused = false
    ) => new SourceTraces(paused, last, refused, day, usual).Judge();

    [Theory]
    [InlineData(4, 10.0, SourceCondition.Quiet)]
    [InlineData(5, 10.0, SourceCondition.Well)]
    // A handful of events tells nothing, and neither does a source without a past.
    [InlineData(0, 9.0, SourceCondition.Well)]
    [InlineData(0, null, SourceCondition.Well)]
    public void A_day_under_half_the_usual_one_is_quiet(int day, double? usual, SourceCondition expected) =>
        Assert.Equal(expected, Judge(Now, day: day, usual: usual));

    [Fact]
    public void A_refusal_counts_until_an_event_comes_after_it()
    {
        Assert.Equal(SourceCondition.Refusing, Judge(null, Now));
        Assert.Equal(SourceCondition.Refusing, Judge(Now - Duration.FromSeconds(1), Now));
        Assert.Equal(SourceCondition.Well, Judge(Now, Now));
        Assert.Equal(SourceCondition.Well, Judge(Now, Now - Duration.FromSeconds(1)));
    }

    [Fact]
    public void A_pause_is_said_before_a_refusal_and_a_refusal_before_a_quiet_day()
    {
        Assert.Equal(SourceCondition.Paused, Judge(null, Now, day: 0, paused: true));
        Assert.Equal(SourceCondition.Refusing, Judge(null, Now, day: 0));
    }
}
