using System.Text.Json;

namespace Outcry.Server.Tests;

/// <summary>Reads what the desk has mailed.</summary>
internal static class Mails
{
    /// <summary>The newest mail to an address with some words in its subject, once it has come in.</summary>
    public static async Task<string> ToAsync(TestDesk desk, string address, string subject)
    {
        using var outside = new HttpClient();
        var mails = await Eventually.GetAsync(
            async () =>
                JsonSerializer
                    .Deserialize<JsonElement>(await outside.GetStringAsync($"{desk.Outside}/mailbox.json"))
                    .EnumerateArray()
                    .Where(m =>
                        m.Text("to").Contains(address, StringComparison.OrdinalIgnoreCase)
                        && m.Text("subject").Contains(subject, StringComparison.Ordinal)
                    )
                    .ToList(),
            found => found.Count > 0
        );
        return mails[0].Text("text");
    }

    /// <summary>The invitation in the first mail to an address with a subject; empty for none.</summary>
    public static async Task<string> InvitationToAsync(TestDesk desk, string address, string subject)
    {
        await ToAsync(desk, address, subject);
        using var outside = new HttpClient();
        return JsonSerializer
            .Deserialize<JsonElement>(await outside.GetStringAsync($"{desk.Outside}/mailbox.json"))
            .EnumerateArray()
            .First(m =>
                m.Text("to").Contains(address, StringComparison.OrdinalIgnoreCase)
                && m.Text("subject").Contains(subject, StringComparison.Ordinal)
            )
            .Text("calendar");
    }

    /// <summary>What stands behind "#" in the first link of a mail.</summary>
    public static string SecretIn(string mail) =>
        System
            .Text.RegularExpressions.Regex.Match(mail.Replace("=\r\n", "", StringComparison.Ordinal), @"#(\S+)")
            .Groups[1]
            .Value;
}
