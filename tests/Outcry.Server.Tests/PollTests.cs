using System.Net;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.DependencyInjection;
using Outcry.Server.Intake;
using Outcry.Server.Platform;

namespace Outcry.Server.Tests;

public sealed class PollTests(TestDesk desk)
{
    private string Api => $"/api/sites/{desk.World.Site.Id}";

    private object Poll(string path, string format, string list = "", int most = 100, string of = "") =>
        new
        {
            address = desk.Outside + path,
            format,
            listPointer = list,
            everyMinutes = 60,
            most,
            of,
        };

    private static readonly object ReviewMap = new
    {
        kind = "review",
        places = new
        {
            id = "/id",
            time = "/created",
            firstName = "/author",
            stars = "/rating",
            words = "/text",
            product = "/item",
        },
        fields = new { },
    };

    private async Task<(Listening Listening, string Source, JsonElement Outcome)> FetchAsync(
        string kind,
        string eventKind,
        object settings
    )
    {
        var owner = await desk.OwnerAsync();
        var listening = new Listening(desk, owner);
        var source = (await listening.AddAsync(kind, eventKind, settings)).Text("id");
        var (_, outcome) = await owner.PostAsync($"{Api}/sources/{source}/fetch");
        return (listening, source, outcome);
    }

    [Theory]
    [InlineData("/outside/reviews.json", "json", "/data/reviews")]
    [InlineData("/outside/reviews.ndjson", "ndJson", "")]
    public async Task Reviews_are_fetched_once_each_and_those_with_few_stars_are_hidden(
        string path,
        string format,
        string list
    )
    {
        var rules = new
        {
            conditions = Array.Empty<object>(),
            join = "all",
            holdsAll = false,
            leastStars = 4,
        };
        var (listening, source, outcome) = await FetchAsync(
            "reviewList",
            "review",
            new
            {
                poll = Poll(path, format, list),
                map = ReviewMap,
                rules,
            }
        );
        Assert.Equal(
            (8, 8, 0),
            (
                outcome.GetProperty("items").GetInt32(),
                outcome.GetProperty("added").GetInt32(),
                outcome.GetProperty("rejected").GetInt32()
            )
        );
        var (_, again) = await (await desk.OwnerAsync()).PostAsync($"{Api}/sources/{source}/fetch");
        Assert.Equal((0, 8), (again.GetProperty("added").GetInt32(), again.GetProperty("repeated").GetInt32()));
        var events = await listening.EventsAsync(source);
        Assert.Equal(2, events.Count(e => e.Text("state") == "hidden"));
        Assert.Contains(
            events,
            e => Listening.Said(e) == "Henrik L. gave 4 of 5 stars: Heavier than it looks, in a good way."
        );
    }

    [Fact]
    public async Task Reviews_are_read_from_csv_and_from_a_pages_own_json_ld()
    {
        var csvMap = new
        {
            kind = "review",
            places = new
            {
                id = "id",
                time = "date",
                firstName = "author",
                stars = "rating",
                words = "review",
                product = "product",
            },
            fields = new { },
        };
        var (_, _, csv) = await FetchAsync(
            "reviewList",
            "review",
            new { poll = Poll("/outside/reviews.csv", "csv"), map = csvMap }
        );
        Assert.Equal(8, csv.GetProperty("added").GetInt32());
        var (listening, source, page) = await FetchAsync(
            "reviewList",
            "review",
            new { poll = Poll("/shop/iron-bowl", "jsonLd") }
        );
        Assert.Equal(2, page.GetProperty("added").GetInt32());
        var first = (await listening.EventsAsync(source))[0];
        Assert.Equal("Henrik L. gave 4 of 5 stars: Heavier than it looks, in a good way.", Listening.Said(first));
    }

    [Theory]
    [InlineData("/journal/feed.atom")]
    [InlineData("/journal/feed.rss")]
    public async Task A_feeds_newest_posts_are_told_and_no_more_than_asked_for(string path)
    {
        var (listening, source, outcome) = await FetchAsync("feed", "post", new { poll = Poll(path, "feed", most: 2) });
        Assert.Equal((4, 2), (outcome.GetProperty("items").GetInt32(), outcome.GetProperty("added").GetInt32()));
        var newest = (await listening.EventsAsync(source))[0];
        Assert.Equal("New to read: The first hour on the wheel", Listening.Said(newest));
    }

    [Fact]
    public async Task A_total_is_one_event_a_day_unless_it_changes()
    {
        var map = new
        {
            kind = "total",
            places = new { total = "/profile/followers" },
            fields = new { },
        };
        var (listening, source, outcome) = await FetchAsync(
            "profileTotals",
            "total",
            new { poll = Poll("/outside/profile.json", "json", of: "followers"), map }
        );
        Assert.Equal(1, outcome.GetProperty("added").GetInt32());
        await (await desk.OwnerAsync()).PostAsync($"{Api}/sources/{source}/fetch");
        Assert.EndsWith(
            " followers",
            Listening.Said(Assert.Single(await listening.EventsAsync(source))),
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("/nowhere", "json", "answered 404")]
    [InlineData("/outside/reviews.csv", "json", "not JSON")]
    [InlineData("/shop", "jsonLd", "No schema.org Review")]
    public async Task A_list_that_cannot_be_read_says_why_and_so_does_the_sources_health(
        string path,
        string format,
        string because
    )
    {
        var (_, source, outcome) = await FetchAsync(
            "reviewList",
            "review",
            new { poll = Poll(path, format), map = ReviewMap }
        );
        Assert.Contains(because, outcome.Text("fault"), StringComparison.Ordinal);
        var list = await (await desk.OwnerAsync()).GetAsync($"{Api}/sources");
        Assert.Contains(
            because,
            list.EnumerateArray().Single(s => s.Text("id") == source).Text("refusedBecause"),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_list_is_looked_at_before_anything_is_taken_in()
    {
        var owner = await desk.OwnerAsync();
        var (_, seen) = await owner.PostAsync(
            $"{Api}/sources/preview-list",
            new { eventKind = "review", poll = Poll("/outside/reviews.json", "json", "/data/reviews") }
        );
        Assert.Equal(8, seen.GetProperty("items").GetInt32());
        Assert.Equal("/rating", seen.GetProperty("map").GetProperty("places").Text("stars"));
        Assert.Equal(5, seen.GetProperty("events").GetArrayLength());
        var (_, away) = await owner.PostAsync(
            $"{Api}/sources/preview-list",
            new
            {
                eventKind = "review",
                poll = new
                {
                    address = "http://10.0.0.7/",
                    format = "json",
                    listPointer = "",
                    everyMinutes = 60,
                    most = 5,
                },
            }
        );
        Assert.Contains("private network", away.Text("fault"), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("127.0.0.1", true)]
    [InlineData("10.1.2.3", true)]
    [InlineData("172.31.255.255", true)]
    [InlineData("192.168.0.1", true)]
    [InlineData("169.254.169.254", true)]
    [InlineData("100.64.0.1", true)]
    [InlineData("0.0.0.0", true)]
    [InlineData("::1", true)]
    [InlineData("::ffff:10.0.0.1", true)]
    [InlineData("fe80::1", true)]
    [InlineData("fd00::1", true)]
    [InlineData("64:ff9b::a00:1", true)]
    [InlineData("2002:a00:1::", true)]
    [InlineData("8.8.8.8", false)]
    [InlineData("172.32.0.1", false)]
    [InlineData("2606:4700::1111", false)]
    public void Addresses_inside_networks_are_told_from_public_ones(string address, bool isPrivate) =>
        Assert.Equal(isPrivate, SafeFetch.IsPrivate(IPAddress.Parse(address)));

    [Fact]
    public async Task Redirects_inwards_endless_ones_and_bodies_over_the_limit_are_refused()
    {
        var builder = WebApplication.CreateSlimBuilder();
        await using var trap = builder.Build();
        trap.Urls.Add("http://127.0.0.1:0");
        trap.MapGet("/inwards", () => Results.Redirect("http://127.0.0.1:1/secret"));
        trap.MapGet("/file", () => Results.Redirect("file:///etc/passwd"));
        trap.MapGet("/round", () => Results.Redirect("/round"));
        trap.MapGet("/large", () => Results.Bytes(new byte[SafeFetch.MostBytes + 1]));
        trap.MapGet(
            "/bomb",
            () => Results.Text("<?xml version=\"1.0\"?><!DOCTYPE r [<!ENTITY a \"aa\">]><rss>&a;</rss>")
        );
        await trap.StartAsync();
        var at = trap.Urls.First();
        var settings = new Microsoft.Extensions.Configuration.ConfigurationBuilder();
        Microsoft.Extensions.Configuration.MemoryConfigurationBuilderExtensions.AddInMemoryCollection(
            settings,
            [new("Fetch:AllowedPrivateHosts", new Uri(at).Authority)]
        );
        using var fetch = new SafeFetch(settings.Build());
        Assert.Contains("private network", await FaultAsync("/inwards"), StringComparison.Ordinal);
        Assert.Contains("file address", await FaultAsync("/file"), StringComparison.Ordinal);
        Assert.Contains("more than 5 times", await FaultAsync("/round"), StringComparison.Ordinal);
        Assert.Contains("larger than 2 MB", await FaultAsync("/large"), StringComparison.Ordinal);
        var bomb = await fetch.GetAsync($"{at}/bomb", CancellationToken.None);
        var feed = new Store.Rows.Polling("", Store.Rows.PollFormat.Feed, "", 60, 5);
        Assert.Contains(
            "neither RSS nor Atom",
            Intake.Polls.ListReader.Read(bomb.Text, feed).Fault,
            StringComparison.Ordinal
        );

        async Task<string> FaultAsync(string path) =>
            (await fetch.GetAsync(at + path, CancellationToken.None)).Fault ?? "";
    }

    [Theory]
    [InlineData("192.0.2.10", "Leeds", "Yorkshire", "England")]
    [InlineData("198.51.100.200", "Utrecht", "Utrecht", "Netherlands")]
    [InlineData("203.0.113.200", "", "", "France")]
    [InlineData("2001:db8::1", "Aarhus", "Midtjylland", "Denmark")]
    [InlineData("::ffff:192.0.2.10", "Leeds", "Yorkshire", "England")]
    [InlineData("8.8.8.8", "", "", "")]
    public void A_place_is_found_in_the_table_as_finely_as_it_is_known(
        string address,
        string city,
        string region,
        string country
    )
    {
        var places = desk.Services.GetRequiredService<Places>();
        Assert.Equal(new Core.Evidence.Place(city, region, country), places.Find(IPAddress.Parse(address)));
    }
}
