using System.Collections.Concurrent;
using System.Text.Json;
using NodaTime;
using Npgsql;
using NpgsqlTypes;
using Outcry.Core.Care;
using Outcry.Server.Sites;
using Outcry.Server.Visitor;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake;

/// <summary>Remembers the forms that stand on a site's pages: where, and what their fields are called. Never any value.</summary>
internal sealed class FoundForms(NpgsqlDataSource source)
{
    /// <summary>Forms remembered of one site at most, so that a page that makes forms up cannot fill the table.</summary>
    private const int MostForms = 500;
    private const int MostInOneReport = 20;
    private const int MostNoted = 10_000;
    private const int MostFields = 60;

    private readonly ConcurrentDictionary<(Guid, string, string), Instant> _noted = new();

    /// <summary>Notes the forms met on a page; one noted within the hour is not written again.</summary>
    public async Task NoteAsync(
        LiveSite site,
        string path,
        IReadOnlyList<FoundFormPart> found,
        Instant now,
        CancellationToken stop
    )
    {
        foreach (
            var form in found.Take(MostInOneReport).Where(f => PlainText.OrNull(f.Key) is { Length: <= LongestKey })
        )
        {
            var name = PlainText.Clean(form.Key).Trim();
            var key = (site.Id, name, path);
            if (_noted.TryGetValue(key, out var at) && now - at < Duration.FromHours(1))
                continue;
            // What is forgotten here is only written once more; a page that makes names up must not fill memory.
            if (_noted.Count >= MostNoted)
                _noted.Clear();
            _noted[key] = now;
            await KeepAsync(site, name, path, [.. form.Fields.Take(MostFields).Select(Clip)], now, stop);
        }
    }

    /// <summary>Keeps one form; the fields are those last seen.</summary>
    public async Task KeepAsync(
        LiveSite site,
        string key,
        string path,
        List<FoundField> fields,
        Instant now,
        CancellationToken stop
    )
    {
        await using var command = source.CreateCommand(
            """
            insert into found_forms (workspace_id, site_id, key, path, fields, first_at, last_at)
            values ($1, $2, $3, $4, $5, $6, $6)
            on conflict (site_id, key, path) do update set fields = excluded.fields, last_at = excluded.last_at
            """
        );
        command.Parameters.AddWithValue(site.WorkspaceId);
        command.Parameters.AddWithValue(site.Id);
        command.Parameters.AddWithValue(key);
        command.Parameters.AddWithValue(path);
        command.Parameters.AddWithValue(NpgsqlDbType.Jsonb, JsonSerializer.Serialize(fields, JsonColumn.Options));
        command.Parameters.AddWithValue(now);
        await command.ExecuteNonQueryAsync(stop);
        await ForgetUnusedAsync(site, stop);
    }

    // Forms that nobody listens to and that were not met for longest make way: made-up ones cannot keep out the true one.
    private async Task ForgetUnusedAsync(LiveSite site, CancellationToken stop)
    {
        await using var command = source.CreateCommand(
            $"""
            delete from found_forms f using (
              select key, path from found_forms
              where site_id = $1 and key <> all($2)
              order by last_at desc offset {MostForms}) old
            where f.site_id = $1 and f.key = old.key and f.path = old.path
            """
        );
        command.Parameters.AddWithValue(site.Id);
        command.Parameters.AddWithValue(site.Forms.Select(f => f.Mapping.Form).ToArray());
        await command.ExecuteNonQueryAsync(stop);
    }

    /// <summary>Longest name of a form, in characters: together with its path it must fit into a key of the database.</summary>
    private const int LongestKey = 250;

    private static FoundField Clip(FoundFieldPart field) =>
        new(Short(field.Name), Short(field.Type), Short(field.Label), Short(field.Autocomplete ?? ""));

    private static string Short(string? text) => PlainText.Clip(PlainText.Clean(text), 120);
}
