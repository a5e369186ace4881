using Microsoft.Extensions.Configuration;
using Outcry.Server.Platform;

namespace Outcry.Server.Tests;

/// <summary>Settings of the house are looked at before anything starts.</summary>
public sealed class SettingsTests
{
    private static IReadOnlyList<string> FaultsOf(params (string Key, string Value)[] settings) =>
        Settings.Faults(
            new ConfigurationBuilder()
                .AddInMemoryCollection(settings.Select(s => KeyValuePair.Create(s.Key, (string?)s.Value)))
                .Build()
        );

    [Fact]
    public void What_counts_without_a_setting_is_no_fault() =>
        Assert.Empty(FaultsOf([.. Settings.All.Where(s => s.Default.Length > 0).Select(s => (s.Key, s.Default))]));

    [Theory]
    [InlineData("Mail:Port", "65536", "Mail:Port is \"65536\"")]
    [InlineData("Mail:Hots", "smtp.pots.example", "There is no setting Mail:Hots")]
    [InlineData("Proxies:0", "10.0.0.0/8", "has no parts")]
    public void A_fault_names_its_setting(string key, string value, string says) =>
        Assert.Contains(says, Assert.Single(FaultsOf((key, value))), StringComparison.Ordinal);

    [Fact]
    public void Mails_come_back_to_an_address_and_a_key_or_not_at_all()
    {
        var (at, key) = (("Mail:Bounces", "bounces@pots.example"), ("Mail:BounceKey", "what comes back says so"));
        Assert.Empty(FaultsOf(at, key));
        Assert.Contains("together", Assert.Single(FaultsOf(at)), StringComparison.Ordinal);
        Assert.Contains("together", Assert.Single(FaultsOf(key)), StringComparison.Ordinal);
    }
}
