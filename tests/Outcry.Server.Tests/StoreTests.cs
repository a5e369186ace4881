using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Npgsql;
using Outcry.Server.Sites;
using Outcry.Standins.Seed;
using Outcry.Store.Signals;

namespace Outcry.Server.Tests;

public sealed class StoreTests(TestDesk desk)
{
    private NpgsqlDataSource Source => desk.Services.GetRequiredService<NpgsqlDataSource>();

    private static Signal Signal(
        Guid site,
        Instant at,
        SignalKind kind = SignalKind.View,
        string path = "/",
        int value = 0,
        Guid? id = null
    ) => new(id ?? Guid.CreateVersion7(), site, at, kind, "v", 1, path, null, value, 0);

    private async Task<long> CountAsync(Guid site)
    {
        await using var command = Source.CreateCommand("select count(*) from signals where site_id = $1");
        command.Parameters.AddWithValue(site);
        return (long)(await command.ExecuteScalarAsync())!;
    }

    [Fact]
    public async Task Signals_of_several_days_go_into_the_partitions_of_their_days()
    {
        var site = Guid.NewGuid();
        var midnight = Instant.FromUtc(2015, 3, 30, 0, 0);
        await new SignalCopy(Source).WriteAsync(
            [
                Signal(site, midnight - Duration.FromTicks(10)),
                Signal(site, midnight),
                Signal(site, midnight + Duration.FromDays(1)),
            ],
            CancellationToken.None
        );
        Assert.Equal(3, await CountAsync(site));
        await using var command = Source.CreateCommand(
            "select count(distinct tableoid) from signals where site_id = $1"
        );
        command.Parameters.AddWithValue(site);
        Assert.Equal(3L, await command.ExecuteScalarAsync());
    }

    [Fact]
    public async Task Every_column_of_a_signal_comes_back_as_it_was_written()
    {
        var site = Guid.NewGuid();
        var at = Instant.FromUtc(2015, 6, 7, 23, 59, 59) + Duration.FromNanoseconds(123_456_000);
        var whole = new Signal(
            Guid.NewGuid(),
            site,
            at,
            SignalKind.Clicked,
            "b\u00fccher",
            7,
            "/\ud83c\udffa/%20\u20ac",
            Guid.NewGuid(),
            -5,
            2,
            IsTest: true
        )
        {
            Host = "xn--bcher-kva.example",
            Query = "",
            Traits = new VisitTraits(
                ["de"],
                "DE",
                "",
                "K\u00f6ln",
                "",
                new Dictionary<string, string> { ["source"] = "a\"b" }
            ),
        };
        var bare = new Signal(Guid.NewGuid(), site, at, SignalKind.View, "v", 0, "", null, 0, 0);
        await new SignalCopy(Source).WriteAsync([whole, bare], CancellationToken.None);
        await using var command = Source.CreateCommand(
            "select id, day, at, kind, visitor_id, visit, path, callout_id, value, device, is_test, host, query, traits::text from signals where site_id = $1 order by is_test desc"
        );
        command.Parameters.AddWithValue(site);
        await using var reader = await command.ExecuteReaderAsync();
        foreach (var written in new[] { whole, bare })
        {
            Assert.True(await reader.ReadAsync());
            Assert.Equal(written.Id, reader.GetGuid(0));
            Assert.Equal(at.InUtc().Date, reader.GetFieldValue<LocalDate>(1));
            Assert.Equal(at, reader.GetFieldValue<Instant>(2));
            var traits = reader.IsDBNull(13) ? null : VisitTraits.Read(reader.GetString(13));
            var read = new Signal(
                reader.GetGuid(0),
                site,
                at,
                (SignalKind)reader.GetInt16(3),
                reader.GetString(4),
                reader.GetInt32(5),
                reader.GetString(6),
                reader.IsDBNull(7) ? null : reader.GetGuid(7),
                reader.GetInt32(8),
                reader.GetInt16(9),
                reader.GetBoolean(10)
            )
            {
                Host = reader.IsDBNull(11) ? null : reader.GetString(11),
                Query = reader.IsDBNull(12) ? null : reader.GetString(12),
                Traits = written.Traits,
            };
            Assert.Equal(written, read);
            Assert.Equal(written.Traits?.Write(), traits?.Write());
        }
    }

    [Fact]
    public async Task Of_a_lot_that_was_partly_sent_before_only_the_new_ones_are_added()
    {
        var site = Guid.NewGuid();
        var at = Instant.FromUtc(2015, 4, 1, 12, 0);
        var first = Enumerable.Range(0, 5).Select(_ => Signal(site, at)).ToList();
        var copy = new SignalCopy(Source);
        await copy.WriteAsync(first, CancellationToken.None);
        await copy.WriteAsync([.. first, Signal(site, at), Signal(site, at)], CancellationToken.None);
        Assert.Equal(7, await CountAsync(site));
    }

    [Fact]
    public async Task Two_writers_can_begin_a_day_at_the_same_instant()
    {
        var site = Guid.NewGuid();
        for (var day = 0; day < 10; day++)
        {
            var at = Instant.FromUtc(2015, 5, 5, 12, 0) + Duration.FromDays(day);
            await Task.WhenAll(
                Enumerable
                    .Range(0, 8)
                    .Select(_ => new SignalCopy(Source).WriteAsync([Signal(site, at)], CancellationToken.None))
            );
        }
        Assert.Equal(80, await CountAsync(site));
    }

    [Fact]
    public async Task Traffic_counts_views_and_how_long_people_stayed()
    {
        var site = Guid.NewGuid();
        var now = SystemClock.Instance.GetCurrentInstant();
        await new SignalCopy(Source).WriteAsync(
            [
                Signal(site, now - Duration.FromDays(2), path: "/shop"),
                Signal(site, now, path: "/shop"),
                Signal(site, now, path: "/"),
                Signal(site, now, SignalKind.Left, "/shop", 12_000),
                Signal(site, now, SignalKind.Left, "/shop", 999_000),
                Signal(site, now - Duration.FromDays(40), path: "/old"),
            ],
            CancellationToken.None
        );
        var traffic = await new TrafficReader(
            new SignalFigures(Source),
            desk.Services.GetRequiredService<LiveSites>(),
            SystemClock.Instance
        ).ReadAsync(site, CancellationToken.None);
        Assert.Equal(["/shop", "/"], traffic.Pages.Select(p => p.Path));
        Assert.Equal(
            (2, 1, 1),
            (traffic.Pages[0].Views, traffic.Pages[0].StayedPer5s[2], traffic.Pages[0].StayedPer5s[^1])
        );
        Assert.Equal(2, traffic.Days, 1);
    }

    [Fact]
    public async Task A_scope_that_entered_no_workspace_sees_no_rows()
    {
        await using var scope = desk.Services.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<Store.OutcryDb>();
        Assert.Empty(await db.Sites.ToListAsync());
        scope.ServiceProvider.GetRequiredService<Store.WorkspaceScope>().Enter(desk.OtherSite.WorkspaceId);
        Assert.Equal(desk.OtherSite.Id, Assert.Single(await db.Sites.ToListAsync()).Id);
    }

    [Fact]
    public void Made_up_visits_end_where_their_deed_leads()
    {
        var goods = Standins.Site.Catalogue.Read();
        var walker = new Walker(goods, "pots.test", new Random(7));
        var walks = Enumerable.Range(0, 3_000).Select(_ => walker.Draw()).ToList();
        Assert.All(walks, w => Assert.All(w.Pages, p => Assert.InRange(p.StayMs, 1_500, 900_000)));
        Assert.All(
            walks.Where(w => w.Deed is Deed.Buys or Deed.Books),
            w => Assert.Equal("/checkout/thank-you", w.Pages[^1].Page.Path)
        );
        Assert.All(walks.Where(w => w.Deed == Deed.Buys), w => Assert.Contains(w.About!, goods.Products));
        Assert.Equal(Enum.GetValues<Deed>().Order(), walks.Select(w => w.Deed).Distinct().Order());
    }
}
