using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Outcry.Server.Team;
using Outcry.Store.Signals;

namespace Outcry.Server.Tests;

/// <summary>A workspace's limits: shown with their use, warned of, and kept as its owners chose.</summary>
public sealed class LimitTests(TestDesk desk)
{
    private sealed record Opened(DeskClient Owner, string Team, string Api, Guid Site);

    private async Task<Opened> OpenAsync()
    {
        var owner = await desk.OwnerAsync();
        var (_, site) = await owner.PostAsync(
            "/api/workspaces",
            new
            {
                workspace = "Limited",
                homeAddress = "https://limited.example/",
                timeZone = "Europe/Dublin",
                language = "en",
            }
        );
        return new Opened(
            owner,
            $"/api/workspaces/{site.Text("workspaceId")}",
            $"/api/sites/{site.Text("id")}",
            site.GetProperty("id").GetGuid()
        );
    }

    private static async Task<JsonElement> SetAsync(
        Opened at,
        int? visitors = null,
        int? callouts = null,
        int? sites = null,
        string then = "goOn"
    )
    {
        var (status, body) = await at.Owner.SendAsync(
            HttpMethod.Put,
            $"{at.Team}/team/limits",
            new
            {
                visitorsAMonth = visitors,
                calloutsLive = callouts,
                sites,
                atVisitors = then,
            }
        );
        Assert.True(status == HttpStatusCode.OK, body.ToString());
        return body;
    }

    private async Task VisitAsync(Opened at, int visitors)
    {
        var now = SystemClock.Instance.GetCurrentInstant();
        await desk
            .Services.GetRequiredService<SignalCopy>()
            .WriteAsync(
                [
                    .. Enumerable
                        .Range(0, visitors)
                        .Select(i => new Signal(
                            Guid.NewGuid(),
                            at.Site,
                            now,
                            SignalKind.View,
                            $"limited{at.Site:N}{i}"[..20] + i,
                            1,
                            "/",
                            null,
                            0,
                            0
                        )),
                ],
                CancellationToken.None
            );
    }

    private Task RoundAsync() => desk.Services.GetRequiredService<LimitRound>().RunAsync(CancellationToken.None);

    private static async Task<bool> IsOffAirAsync(Opened at) =>
        (await at.Owner.GetAsync($"{at.Api}/strip")).GetProperty("offAir").GetBoolean();

    [Fact]
    public async Task Sites_and_callouts_beyond_the_limit_are_refused_in_words_and_warned_of_before()
    {
        var at = await OpenAsync();
        var view = await SetAsync(at, callouts: 1, sites: 1);
        Assert.Equal("All 1 sites are used.", Assert.Single(view.GetProperty("warnings").EnumerateArray()).GetString());
        var (more, refusal) = await at.Owner.PostAsync(
            $"{at.Team}/sites",
            new
            {
                name = "One more",
                homeAddress = "https://more.example/",
                timeZone = "UTC",
                language = "en",
            }
        );
        Assert.Equal((HttpStatusCode.BadRequest, "name"), (more, refusal.Text("field")));
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (
                await at.Owner.PostAsync($"{at.Api}/copy", new { name = "Copy", homeAddress = "https://copy.example/" })
            ).Status
        );

        var ids = new List<string>();
        for (var i = 0; i < 2; i++)
        {
            var (_, made) = await at.Owner.PostAsync($"{at.Api}/callouts", new { kind = "notice" });
            ids.Add(made.Text("id"));
            await at.Owner.SendAsync(
                HttpMethod.Put,
                $"{at.Api}/callouts/{ids[i]}/draft",
                new
                {
                    name = $"Notice {i}",
                    content = Moments.Notice("The kiln opens at nine"),
                    version = 1,
                }
            );
        }
        var statuses = new List<HttpStatusCode>();
        foreach (var id in ids)
            statuses.Add((await at.Owner.PostAsync($"{at.Api}/callouts/{id}/publish", new { version = 2 })).Status);
        Assert.Equal([HttpStatusCode.OK, HttpStatusCode.Conflict], statuses);
        // What is live may be published anew, and one that makes room lets the next in.
        Assert.Equal(
            HttpStatusCode.OK,
            (await at.Owner.PostAsync($"{at.Api}/callouts/{ids[0]}/publish", new { version = 2 })).Status
        );
        await at.Owner.PostAsync($"{at.Api}/callouts/{ids[0]}/pause");
        Assert.Equal(
            HttpStatusCode.OK,
            (await at.Owner.PostAsync($"{at.Api}/callouts/{ids[1]}/publish", new { version = 2 })).Status
        );
        Assert.Equal(HttpStatusCode.Conflict, (await at.Owner.PostAsync($"{at.Api}/callouts/{ids[0]}/resume")).Status);
    }

    [Fact]
    public async Task Used_up_visitors_take_the_sites_off_air_where_that_was_chosen_and_a_raised_limit_brings_them_back()
    {
        var at = await OpenAsync();
        await SetAsync(at, visitors: 5, then: "goQuiet");
        await VisitAsync(at, 4);
        await RoundAsync();
        Assert.False(await IsOffAirAsync(at));
        var near = await at.Owner.GetAsync($"{at.Team}/team/limits");
        Assert.Equal("4 of 5 visitors of this month are used.", near.GetProperty("warnings")[0].GetString());
        await VisitAsync(at, 5);
        await RoundAsync();
        Assert.True(await IsOffAirAsync(at));
        Assert.Equal(LimitRound.By, (await at.Owner.GetAsync($"{at.Api}/strip")).Text("switchedBy"));
        // An owner's own word goes before it.
        await at.Owner.SendAsync(HttpMethod.Put, $"{at.Api}/off-air", new { offAir = false });
        await RoundAsync();
        Assert.False(await IsOffAirAsync(at));

        await SetAsync(at, visitors: 5, then: "goQuiet");
        await RoundAsync();
        Assert.True(await IsOffAirAsync(at));
        await SetAsync(at, visitors: 500, then: "goQuiet");
        await RoundAsync();
        Assert.False(await IsOffAirAsync(at));
        var acts = (await at.Owner.GetAsync($"{at.Team}/team/traces"))
            .GetProperty("traces")
            .EnumerateArray()
            .Where(t => t.Text("by") == LimitRound.By)
            .Select(t => t.Text("act"));
        Assert.Equal(["put back on air", "took off air", "took off air"], acts);
    }

    [Fact]
    public async Task Where_it_was_chosen_to_go_on_it_goes_on_and_what_a_member_took_off_air_stays_off()
    {
        var at = await OpenAsync();
        await SetAsync(at, visitors: 1);
        await VisitAsync(at, 2);
        await RoundAsync();
        Assert.False(await IsOffAirAsync(at));
        await at.Owner.SendAsync(HttpMethod.Put, $"{at.Api}/off-air", new { offAir = true });
        await SetAsync(at, visitors: 100);
        await RoundAsync();
        Assert.True(await IsOffAirAsync(at));
    }
}
