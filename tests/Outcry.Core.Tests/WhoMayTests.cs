using System.Text.Json;
using System.Text.Json.Nodes;
using Outcry.Core.Access;

namespace Outcry.Core.Tests;

/// <summary>Rights, house habits, second persons, and what differs in words.</summary>
public sealed class WhoMayTests
{
    [Fact]
    public void The_table_names_every_right_once_and_every_role_may_enter()
    {
        Assert.Equal(Enum.GetValues<Right>().Order(), AccessTable.Lines.Select(l => l.Right).Order());
        Assert.Equal(Enum.GetValues<Role>().Order(), AccessTable.Roles.Order());
        Assert.All(AccessTable.Roles, r => Assert.True(AccessTable.Allows(r, Right.Enter)));
        Assert.All(Enum.GetValues<Right>(), r => Assert.True(AccessTable.Allows(Role.Owner, r)));
        Assert.All(Enum.GetValues<Right>(), r => Assert.NotEmpty(AccessTable.Refusal(r)));
    }

    [Theory]
    [InlineData(Role.Publisher, "Enter,See,Draft,Publish,Answer,Connect")]
    [InlineData(Role.Editor, "Enter,See,Draft")]
    [InlineData(Role.Responder, "Enter,Answer")]
    [InlineData(Role.Viewer, "Enter,See")]
    public void A_role_may_what_the_table_says_and_nothing_else(Role role, string rights) =>
        Assert.Equal(rights, string.Join(',', AccessTable.Of(role).Order()));

    [Theory]
    [InlineData(ReviewHabit.Nothing, "", "Free mug", false)]
    [InlineData(ReviewHabit.Promises, "", "Free mug", true)]
    [InlineData(ReviewHabit.Promises, "Free mug", "Free mug", false)]
    [InlineData(ReviewHabit.Promises, "Free mug", "", false)]
    [InlineData(ReviewHabit.Promises, "", "", false)]
    [InlineData(ReviewHabit.Everything, "", "", true)]
    public void A_second_person_is_needed_where_the_habit_says_so(
        ReviewHabit habit,
        string before,
        string now,
        bool needed
    ) => Assert.Equal(needed, SecondPerson.IsNeeded(habit, before, now));

    [Fact]
    public void The_second_person_may_publish_and_wrote_nothing_of_it()
    {
        var (author, other) = (Guid.NewGuid(), Guid.NewGuid());
        Assert.True(SecondPerson.CanBe(other, Role.Publisher, [author]));
        Assert.False(SecondPerson.CanBe(author, Role.Owner, [author]));
        Assert.False(SecondPerson.CanBe(other, Role.Editor, [author]));
    }

    [Theory]
    [InlineData(FactorHabit.Nobody, Role.Owner, false)]
    [InlineData(FactorHabit.Owners, Role.Owner, true)]
    [InlineData(FactorHabit.Owners, Role.Publisher, false)]
    [InlineData(FactorHabit.Everybody, Role.Viewer, true)]
    public void Who_needs_a_second_factor_follows_from_the_habit(FactorHabit habit, Role role, bool needed) =>
        Assert.Equal(needed, (HouseHabits.Start with { Factor = habit }).NeedsFactor(role));

    [Theory]
    [InlineData(0, false)]
    [InlineData(HouseHabits.LeastAway, true)]
    [InlineData(HouseHabits.MostAway, true)]
    [InlineData(HouseHabits.MostAway + 1, false)]
    public void A_session_ends_within_two_weeks_away(int hours, bool fits) =>
        Assert.Equal(fits, (HouseHabits.Start with { AwayHours = hours }).Check().Count == 0);

    private static JsonNode? Node(string json) => JsonNode.Parse(json);

    [Fact]
    public void What_differs_is_named_by_its_place_in_words()
    {
        var changes = ChangeWords.Between(
            Node("""{"often":{"perWeek":3,"hush":true},"where":{"includes":["/shop"]},"same":1}"""),
            Node("""{"often":{"perWeek":2,"hush":true},"where":{"includes":["/shop","/sale"]},"same":1,"note":"new"}""")
        );
        Assert.Equal(
            [
                new TracedChange("often › per week", "3", "2"),
                new TracedChange("where › includes", "/shop", "/shop, /sale"),
                new TracedChange("note", "", "new"),
            ],
            changes
        );
    }

    [Fact]
    public void What_is_new_as_a_whole_is_told_part_by_part_and_much_is_counted()
    {
        Assert.Equal(
            [new TracedChange("look › close mark", "", "yes")],
            ChangeWords.Between(Node("{}"), Node("""{"look":{"closeMark":true}}"""))
        );
        var many = new JsonObject();
        for (var i = 0; i < ChangeWords.Most + 7; i++)
            many[$"part{i}"] = i;
        var changes = ChangeWords.Between(null, many);
        Assert.Equal((ChangeWords.Most + 1, "7 more"), (changes.Count, changes[^1].What));
        Assert.Empty(ChangeWords.Between(many, many.DeepClone()));
        Assert.All(
            ChangeWords.Between<object>(
                new { Text = "" },
                new { Text = new string('x', 5_000) },
                JsonSerializerOptions.Web
            ),
            c => Assert.InRange(c.After.Length, 1, 500)
        );
    }
}
