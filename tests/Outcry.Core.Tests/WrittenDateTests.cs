using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Sources;

namespace Outcry.Core.Tests;

/// <summary>Dates as people write them, and what forms call their fields.</summary>
public sealed class WrittenDateTests
{
    private static string? Read(string text, DateOrder? order = null) =>
        WrittenDate.Read(text, order)?.ToString("uuuu-MM-dd'T'HH:mm:ss", null);

    [Theory]
    [InlineData("24/11/2015", null, "2015-11-24T00:00:00")]
    [InlineData("11/24/2015", null, "2015-11-24T00:00:00")]
    [InlineData("03/04/2015", DateOrder.DayFirst, "2015-04-03T00:00:00")]
    [InlineData("03/04/2015", DateOrder.MonthFirst, "2015-03-04T00:00:00")]
    [InlineData("03/04/2015", null, null)]
    [InlineData("4/4/15 9:05 pm", null, "2015-04-04T21:05:00")]
    [InlineData("12/31/2015 12:00 AM", DateOrder.MonthFirst, "2015-12-31T00:00:00")]
    [InlineData("3.4.2015, 14:05:09", null, "2015-04-03T14:05:09")]
    [InlineData("24-11-2015 14:05", null, "2015-11-24T14:05:00")]
    [InlineData("24 Nov 2015 14:05", null, "2015-11-24T14:05:00")]
    [InlineData("Tuesday, 24 November 2015", null, "2015-11-24T00:00:00")]
    [InlineData("November 24, 2015 2:05 PM", null, "2015-11-24T14:05:00")]
    [InlineData("24. Dezember 2015", null, "2015-12-24T00:00:00")]
    [InlineData("24 déc. 2015", null, "2015-12-24T00:00:00")]
    [InlineData("3 de abril de 2015", null, "2015-04-03T00:00:00")]
    [InlineData("31/02/2015", DateOrder.DayFirst, null)]
    [InlineData("24/13/2015", null, null)]
    [InlineData("1/1/2015 25:00", null, null)]
    [InlineData("sometime", null, null)]
    public void Reads_what_people_write(string text, DateOrder? order, string? read) =>
        Assert.Equal(read, Read(text, order));

    [Fact]
    public void A_column_shows_its_order_by_one_number_above_twelve()
    {
        Assert.Equal(DateOrder.DayFirst, WrittenDate.Guess(["03/04/2015", null, "24/11/2015"]));
        Assert.Equal(DateOrder.MonthFirst, WrittenDate.Guess(["03/04/2015", "11/24/2015"]));
        Assert.Null(WrittenDate.Guess(["03/04/2015", "05/06/2015"]));
        Assert.Null(WrittenDate.Guess(["24/11/2015", "11/24/2015"]));
    }

    [Theory]
    [InlineData("vorname", "text", "", null, FieldMeaning.FirstName)]
    [InlineData("f_1", "text", "Nombre", null, FieldMeaning.FirstName)]
    [InlineData("f_2", "email", "", null, FieldMeaning.Email)]
    [InlineData("f_3", "text", "", "shipping tel", FieldMeaning.Phone)]
    [InlineData("f_4", "text", "電話番号", null, FieldMeaning.Phone)]
    [InlineData("courriel", "text", "", null, FieldMeaning.Email)]
    [InlineData("f_5", "text", "Stadt", null, FieldMeaning.City)]
    public void Fields_are_guessed_by_autofill_type_name_and_label(
        string name,
        string type,
        string label,
        string? autocomplete,
        FieldMeaning meaning
    )
    {
        FormField[] fields = [new("other", "text", "Something else", null), new(name, type, label, autocomplete)];
        Assert.Equal(name, MapGuess.Guess(EventKind.Enquiry, fields).PlaceOf(meaning));
    }

    [Theory]
    [InlineData("#cookies", true)]
    [InlineData(".a > .b:not(.c), [data-x=\"1\"]", true)]
    [InlineData("[[", false)]
    [InlineData(".a,", false)]
    [InlineData("", false)]
    public void Selectors_that_no_browser_reads_are_told(string text, bool isReadable) =>
        Assert.Equal(isReadable, CssSelector.IsReadable(text));

    [Fact]
    public void Endorsements_have_no_stars_to_be_too_few()
    {
        var rule = Samples.Rule() with { LeastStars = 4 };
        Assert.Null(rule.Refuses(Samples.Event() with { Kind = EventKind.Endorsement }, Samples.Now));
        Assert.Equal(
            EvidenceRefusal.TooFewStars,
            rule.Refuses(Samples.Event() with { Kind = EventKind.Review }, Samples.Now)
        );
    }
}
