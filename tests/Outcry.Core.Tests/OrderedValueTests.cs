using Outcry.Core.Targeting;
using Outcry.Core.Visitors;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Attributes of visitors that are numbers or dates.</summary>
public sealed class OrderedValueTests
{
    [Theory]
    [InlineData("9", "10", -1)]
    [InlineData(" 12.50 ", "12.5", 0)]
    [InlineData("-1", "-2", 1)]
    [InlineData("2015-11-24", "2015-12-01", -1)]
    [InlineData("2015-11-24T23:59:00Z", "2015-11-24", 0)]
    [InlineData("2015", "2015-11-24", null)]
    public void Numbers_and_dates_each_have_an_order_of_their_own(string left, string right, int? order) =>
        Assert.Equal(order, Read(left).CompareTo(Read(right)) is { } way ? Math.Sign(way) : null);

    [Theory]
    [InlineData("")]
    [InlineData("gold")]
    [InlineData("1,5")]
    [InlineData("24.11.2015")]
    [InlineData("2015-13-01")]
    [InlineData("1e3")]
    [InlineData("1000000000000001")]
    [InlineData("99999999999999999999999999999999")]
    public void What_is_neither_has_no_order(string text) => Assert.Null(OrderedValue.TryRead(text));

    [Theory]
    [InlineData("41.5", 1, "42.5")]
    [InlineData("2016-03-01", -1, "2016-02-29")]
    [InlineData("9999-12-31", 1, "9999-12-31")]
    [InlineData("9999-12-31", -1, "9999-12-30")]
    public void The_next_is_a_whole_number_or_a_day_further(string from, int by, string next) =>
        Assert.Equal(next, Read(from).Next(by));

    [Theory]
    [InlineData(FactComparison.AtLeast, "3", "4", true)]
    [InlineData(FactComparison.AtLeast, "3", "2.9", false)]
    [InlineData(FactComparison.AtMost, "2015-11-24", "2015-11-24", true)]
    [InlineData(FactComparison.AtMost, "2015-11-24", "2015-11-25", false)]
    [InlineData(FactComparison.AtLeast, "3", "gold", false)]
    [InlineData(FactComparison.AtMost, "3", "", false)]
    public void A_rule_compares_an_attribute_by_it(FactComparison comparison, string wanted, string said, bool holds)
    {
        var rule = CompiledRule.Compile(
            new FactTest(VisitorFact.Attribute, comparison, wanted, "plan"),
            new Dictionary<Guid, Segment>()
        );
        var facts = VisitorFacts.Unknown with { Attributes = new Dictionary<string, string> { ["plan"] = said } };
        Assert.Equal(holds, rule.Holds(new FactReader(Visitor(), facts, [], Now)));
    }

    [Fact]
    public void A_rule_with_a_value_that_has_no_order_is_refused_in_words()
    {
        var refused = Assert.Throws<FormatException>(() =>
            CompiledRule.Compile(
                new FactTest(VisitorFact.Attribute, FactComparison.AtLeast, "gold", "plan"),
                new Dictionary<Guid, Segment>()
            )
        );
        Assert.Contains("\"gold\" is neither a number nor a date", refused.Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("plan", true)]
    [InlineData("E-Mail", false)]
    [InlineData("nickName", false)]
    public void What_may_say_who_somebody_is_is_not_asked(string attribute, bool may) =>
        Assert.Equal(may, VisitorFacts.MayBeAsked(attribute));

    private static OrderedValue Read(string text) => OrderedValue.TryRead(text)!.Value;
}
