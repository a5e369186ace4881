using System.Text.Json;
using System.Text.RegularExpressions;
using Outcry.Core.Targeting;

namespace Outcry.Server.Tests;

/// <summary>What anybody can ask for without an account, and what must never stand in it.</summary>
public sealed partial class PrivacyTests(TestDesk desk)
{
    private const string Mail = "Private.Person-77@secret.example";
    private const string Phone = "+44 7700 900123";
    private const string Surname = "Featherstonehaugh";
    private const string Street = "12 Kiln Lane";

    [Fact]
    public async Task No_public_answer_holds_an_address_a_number_a_surname_a_street_or_a_network_address()
    {
        var owner = await desk.OwnerAsync();
        var listening = new Listening(desk, owner);
        var map = new
        {
            kind = "purchase",
            places = new
            {
                firstName = "/first",
                lastName = "/last",
                email = "/mail",
                phone = "/tel",
                product = "/item",
                page = "/page",
            },
            fields = new { street = "/street", note = "/note" },
        };
        var source = await listening.AddAsync("signedWebhook", "purchase", new { map });
        for (var i = 0; i < 4; i++)
            await Listening.PostAsync(
                desk.Anonymous(),
                source.Text("id"),
                source.Text("secret"),
                new
                {
                    first = "Perdita",
                    last = Surname,
                    mail = $"{i}{Mail}",
                    tel = Phone,
                    item = $"Private jar {i}",
                    street = Street,
                    note = $"call {Phone}",
                    page = "https://pots.example/a",
                }
            );
        var callout = await Moments.StartAsync(
            owner,
            desk,
            b =>
                b with
                {
                    Where = new WhereFacet(["/private"], [], [], Replaces: false),
                    From = b.From with
                    {
                        Sources = [Guid.Parse(source.Text("id"))],
                        LeastNumber = 1,
                        WindowMinutes = null,
                    },
                    When = b.When with { Turns = 4 },
                }
        );
        Assert.Equal(HttpStatusCode.OK, (await Moments.PublishAsync(owner, desk, callout)).Status);
        await Eventually.GetAsync(
            () => new Browser(desk).PlanAsync("/private"),
            p => Browser.Cues(p).Contains(callout)
        );

        var (_, link) = await owner.PostAsync($"{listening.Api}/install/install-link");
        var (_, visit) = await owner.PostAsync($"{listening.Api}/install/visit-link");
        var member = new Browser(desk) { Token = new Uri(visit.Text("url")).Fragment.Split('=')[1] };
        var answers = new List<string>
        {
            (await new Browser(desk).PlanAsync("/private")).ToString(),
            (await member.PlanAsync("/private")).ToString(),
        };
        foreach (var path in await PublicPathsAsync())
        {
            using var answer = await desk.Anonymous()
                .GetAsync(
                    path.Replace("{siteKey}", desk.World.Site.Key, StringComparison.Ordinal)
                        .Replace("{token}", new Uri(link.Text("url")).Fragment[1..], StringComparison.Ordinal)
                        .Replace("{siteId}", $"{desk.World.Site.Id}", StringComparison.Ordinal)
                );
            answers.Add(await answer.Content.ReadAsStringAsync());
        }
        Assert.Contains(answers, a => a.Contains("Perdita F.", StringComparison.Ordinal));
        Assert.All(
            answers,
            a =>
            {
                Assert.DoesNotContain(Surname, a, StringComparison.OrdinalIgnoreCase);
                Assert.DoesNotContain("secret.example", a, StringComparison.OrdinalIgnoreCase);
                Assert.DoesNotContain("900123", a, StringComparison.Ordinal);
                Assert.DoesNotContain("Kiln Lane", a, StringComparison.OrdinalIgnoreCase);
                Assert.DoesNotMatch(NetworkAddress(), a);
            }
        );
    }

    // Every GET of the API's own document, members' ones too: those must refuse, and refusals are public answers.
    private async Task<List<string>> PublicPathsAsync()
    {
        var document = JsonSerializer.Deserialize<JsonElement>(
            await desk.Anonymous().GetStringAsync("/openapi/v1.json")
        );
        var paths = document
            .GetProperty("paths")
            .EnumerateObject()
            .Where(p => p.Value.TryGetProperty("get", out _))
            .Select(p => Regex.Replace(p.Name, @"\{(?!siteKey|siteId|token)\w+\}", $"{Guid.NewGuid()}"))
            .ToList();
        Assert.True(paths.Count > 20);
        return paths;
    }

    [Fact]
    public async Task What_is_typed_into_a_name_by_mistake_is_not_told_as_one()
    {
        var (_, sent, _) = await new Sender(desk).SendAsync(Sender.Purchase("mistyped", firstName: Mail));
        var opened = await (await desk.OwnerAsync()).GetAsync(
            $"/api/sites/{desk.World.Site.Id}/events/{sent.Text("id")}"
        );
        Assert.DoesNotContain("secret.example", opened.ToString(), StringComparison.OrdinalIgnoreCase);
    }

    [GeneratedRegex(@"\b(?:127\.0\.0\.1|\d{1,3}\.\d{1,3}\.\d{1,3}\.\d{1,3})\b")]
    private static partial Regex NetworkAddress();
}
