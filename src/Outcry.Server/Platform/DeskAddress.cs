namespace Outcry.Server.Platform;

/// <summary>
/// Where the desk is reached, for links in mails: the setting "Desk:Address". Without it, as the request says; whoever can send
/// a request with a Host of their own choosing could then have their own address put into a mail, so a house that is open to
/// strangers sets it.
/// </summary>
internal sealed class DeskAddress(IConfiguration configuration)
{
    private readonly string? _set = configuration["Desk:Address"]?.TrimEnd('/');

    /// <summary>The setting, where it is set.</summary>
    public string? Set => _set is { Length: > 0 } ? _set : null;

    public string Of(HttpRequest request) => _set is { Length: > 0 } set ? set : $"{request.Scheme}://{request.Host}";
}
