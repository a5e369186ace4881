using System.Text.Json;

namespace Outcry.Server.Tests;

public sealed class LedgerTests(TestDesk desk)
{
    private string Api => $"/api/sites/{desk.World.Site.Id}/events";

    [Fact]
    public async Task Pages_follow_each_other_without_gap_or_repeat()
    {
        var shop = new Sender(desk);
        for (var i = 0; i < 60; i++)
            await shop.SendAsync(Sender.Purchase($"page-{i}"));
        var owner = await desk.OwnerAsync();
        var seen = new List<(string At, string Id)>();
        string? next = "";
        for (var page = 0; next is not null && page < 20; page++)
        {
            var body = await owner.GetAsync(
                $"{Api}?after={Uri.EscapeDataString(next)}".Replace(
                    "?after=",
                    next.Length == 0 ? "?" : "?after=",
                    StringComparison.Ordinal
                )
            );
            seen.AddRange(body.GetProperty("events").EnumerateArray().Select(e => (e.Text("at"), e.Text("id"))));
            next = body.GetProperty("next").GetString();
        }
        Assert.True(seen.Count >= 60);
        Assert.Equal(seen.Count, seen.Distinct().Count());
        Assert.Equal(
            seen.Select(s => DateTimeOffset.Parse(s.At, System.Globalization.CultureInfo.InvariantCulture))
                .OrderDescending(),
            seen.Select(s => DateTimeOffset.Parse(s.At, System.Globalization.CultureInfo.InvariantCulture))
        );
    }

    [Theory]
    [InlineData("after=nonsense", "after")]
    [InlineData("state=lost", "state")]
    [InlineData("hours=0", "hours")]
    public async Task A_filter_that_makes_no_sense_is_refused(string query, string field)
    {
        var owner = await desk.OwnerAsync();
        var (status, problem) = await owner.SendAsync(HttpMethod.Get, $"{Api}?{query}");
        Assert.Equal((HttpStatusCode.BadRequest, field), (status, problem.Text("field")));
    }

    [Fact]
    public async Task An_opened_event_shows_what_visitors_see_beside_what_arrived()
    {
        var (_, sent, _) = await new Sender(desk).SendAsync(Sender.Purchase("opened"));
        var owner = await desk.OwnerAsync();
        var detail = await owner.GetAsync($"{Api}/{sent.Text("id")}");
        JsonElement Field(string name) =>
            detail.GetProperty("fields").EnumerateArray().Single(f => f.Text("field") == name);
        Assert.Equal(("Noor H.", "Noor H•••••"), (Field("name").Text("visitorsSee"), Field("name").Text("arrived")));
        Assert.Equal(JsonValueKind.Null, Field("e-mail").GetProperty("visitorsSee").ValueKind);
        Assert.Equal(JsonValueKind.Null, Field("amount").GetProperty("visitorsSee").ValueKind);
    }
}
