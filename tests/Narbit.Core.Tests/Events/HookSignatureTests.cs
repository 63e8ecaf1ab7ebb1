using System.Security.Cryptography;
using System.Text;
using Narbit.Core.Events;

namespace Narbit.Core.Tests.Events;

/// <summary>Who sent a webhook, and when.</summary>
public sealed class HookSignatureTests
{
    private static readonly DateTimeOffset Now = new(2026, 11, 28, 12, 0, 0, TimeSpan.Zero);
    private static readonly byte[] Body = Encoding.UTF8.GetBytes("""{"purchase":"M1"}""");
    private static readonly string Stamp = Stamped(Now);

    [Fact]
    public void It_is_over_the_time_a_point_and_the_body()
    {
        byte[] signed = [.. Encoding.UTF8.GetBytes(Stamp), (byte)'.', .. Body];
        HookSignature.Of("Jefe", Stamp, Body).ShouldBe(Convert.ToHexStringLower(HMACSHA256.HashData("Jefe"u8, signed)));
    }

    [Fact]
    public void What_is_signed_with_a_secret_in_force_is_taken()
    {
        var signature = HookSignature.Of("new", Stamp, Body);
        Fault(signature).ShouldBeNull();
        Fault(signature.ToUpperInvariant()).ShouldBeNull();
        Fault($"v1={signature}").ShouldBeNull();
        Fault(HookSignature.Of("old", Stamp, Body)).ShouldBeNull();
    }

    [Fact]
    public void What_is_signed_otherwise_late_or_not_at_all_is_not()
    {
        Fault(HookSignature.Of("other", Stamp, Body)).ShouldBe("hook.signature");
        Fault(HookSignature.Of("new", Stamp, [.. Body, 32])).ShouldBe("hook.signature");
        Fault("nonsense").ShouldBe("hook.signature");
        Fault(null).ShouldBe("hook.unsigned");
        Fault("x", stamp: "").ShouldBe("hook.unsigned");
        Fault("x", stamp: "yesterday").ShouldBe("hook.time");
        Fault("x", stamp: "99999999999999999").ShouldBe("hook.time");
        foreach (var minutes in new[] { -6, 6 })
        {
            var stamp = Stamped(Now.AddMinutes(minutes));
            Fault(HookSignature.Of("new", stamp, Body), stamp).ShouldBe("hook.time");
        }

        var soon = Stamped(Now.AddMinutes(4));
        Fault(HookSignature.Of("new", soon, Body), soon).ShouldBeNull();
    }

    private static string? Fault(string? signature, string? stamp = null) =>
        HookSignature.Fault(["new", "old"], stamp ?? Stamp, signature, Body, Now)?.Code;

    private static string Stamped(DateTimeOffset at) => at.ToUnixTimeSeconds().ToString(System.Globalization.CultureInfo.InvariantCulture);
}
