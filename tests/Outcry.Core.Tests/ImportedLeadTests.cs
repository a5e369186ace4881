using NodaTime;
using Outcry.Core.Asking;

namespace Outcry.Core.Tests;

/// <summary>People out of a file: who they are, what they agreed to, and which lines are nobody.</summary>
public sealed class ImportedLeadTests
{
    private static readonly Instant Now = Instant.FromUtc(2015, 11, 20, 12, 0);

    private static (ImportedLead? Lead, string? Fault) Read(params (string Heading, string Cell)[] cells) =>
        ImportedLead.Read(cells.ToDictionary(c => c.Heading, c => c.Cell), "GB", Now);

    [Fact]
    public void A_file_brings_nobody_back_who_left_or_cannot_be_reached()
    {
        var promise = Guid.NewGuid();
        var waits = LeadLife.Begin(null, confirms: true, Now);
        Assert.True(waits.TakeFromFile(promise, Now).MayBeWrittenTo);
        Assert.Equal(waits, waits.TakeFromFile(null, Now));
        foreach (var gone in new[] { waits.Confirm(Now).Withdraw(Now), waits.Confirm(Now).ComeBack(Now) })
            Assert.Equal(gone, gone.TakeFromFile(promise, Now));
    }

    [Fact]
    public void A_line_is_read_whatever_its_headings_are_called()
    {
        var (lead, fault) = Read(
            ("E-Mail", "Noor@Post.Example"),
            ("First name", "Noor"),
            ("Last-Name", "Haddad"),
            ("Mobile", "07911 123456"),
            ("Tags", "letters; Kiln | letters"),
            ("Agreed to", "One letter a month."),
            ("agreed_at", "2015-10-01T09:30:00Z"),
            ("Favourite glaze", "Celadon"),
            ("Empty", "  ")
        );
        Assert.Null(fault);
        Assert.Equal(("Noor@post.example", "+447911123456"), (lead!.Email, lead.Phone));
        Assert.Equal(("Noor", "Haddad"), (lead.FirstName, lead.Surname));
        Assert.Equal(["letters", "Kiln"], lead.Tags);
        Assert.Equal(("One letter a month.", Instant.FromUtc(2015, 10, 1, 9, 30)), (lead.Promise, lead.AgreedAt));
        Assert.Equal("Celadon", Assert.Single(lead.Answers, a => a.Key == "favourite_glaze").Value);
    }

    [Theory]
    [InlineData("2015-10-01", 2015, 10, 1, 0)]
    [InlineData("2015-10-01T09:30:00+02:00", 2015, 10, 1, 7)]
    public void A_moment_is_a_day_or_an_instant(string said, int year, int month, int day, int hour)
    {
        var (lead, _) = Read(("email", "a@reader.net"), ("promise", "x"), ("agreed_at", said));
        Assert.Equal((year, month, day, hour), At(lead!.AgreedAt!.Value));

        static (int, int, int, int) At(Instant at) =>
            at.InUtc() is var utc ? (utc.Year, utc.Month, utc.Day, utc.Hour) : default;
    }

    public static TheoryData<string, string, string> Nobody { get; } =
        new()
        {
            { "email", "call me", "no e-mail address" },
            { "phone", "12", "no phone number" },
            { "name", "Noor", "neither an e-mail address nor a phone number" },
            { "promise", "One letter.", "does not say when" },
            { "agreed_at", "2015-10-01", "not to what" },
            { "language", "english please", "no language" },
        };

    [Theory]
    [MemberData(nameof(Nobody))]
    public void What_is_nobody_is_told_why(string heading, string cell, string why)
    {
        (string, string)[] cells = heading is "name" or "email" or "phone"
            ? [(heading, cell)]
            : [("email", "a@reader.net"), (heading, cell)];
        var (lead, fault) = Read(cells);
        Assert.Null(lead);
        Assert.Contains(why, fault, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("2015-11-21T00:00:00Z", "in the future")]
    [InlineData("last summer", "is no moment")]
    [InlineData("12/11/2015", "is no moment")]
    public void When_they_agreed_is_past_and_plain(string said, string why) =>
        Assert.Contains(
            why,
            Read(("email", "a@reader.net"), ("promise", "x"), ("agreed_at", said)).Fault,
            StringComparison.Ordinal
        );
}
