using NodaTime;
using Npgsql;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>Keeps what pages say of the elements they were asked about; of elements nobody asked about nothing is kept.</summary>
internal sealed class PlaceTaker(NpgsqlDataSource source)
{
    public async Task TakeAsync(LiveSite site, PageAddress page, PlacesPart said, Instant now, CancellationToken stop)
    {
        var path = page.RecordedPath;
        foreach (var selector in site.AskedPlaces)
        {
            var seen = new SeenPlace(said.Found.Contains(selector), said.InView.Contains(selector));
            if (!site.Places.Take(path, selector, seen, now))
                continue;
            await using var command = source.CreateCommand(
                """
                insert into places (workspace_id, site_id, path, selector, found, in_view, at)
                values ($1, $2, $3, $4, $5, $6, $7)
                on conflict (site_id, path, selector) do update
                set found = excluded.found, in_view = excluded.in_view, at = excluded.at
                """
            );
            command.Parameters.AddWithValue(site.WorkspaceId);
            command.Parameters.AddWithValue(site.Id);
            command.Parameters.AddWithValue(path);
            command.Parameters.AddWithValue(selector);
            command.Parameters.AddWithValue(seen.Found);
            command.Parameters.AddWithValue(seen.InView);
            command.Parameters.AddWithValue(now);
            await command.ExecuteNonQueryAsync(stop);
        }
    }
}
