using System.Net;
using CsCheck;
using Narbit.Adapters;

namespace Narbit.Core.Tests;

/// <summary>Which addresses are called: no form of writing an address gets around what is never called.</summary>
public sealed class OutboundTests
{
    private static readonly OutboundPolicy Strict = new(AllowLoopback: false);

    [Theory]
    [InlineData("127.0.0.1")]
    [InlineData("127.8.9.10")]
    [InlineData("::1")]
    [InlineData("::ffff:127.0.0.1")]
    [InlineData("0.0.0.0")]
    [InlineData("::")]
    [InlineData("169.254.169.254")]
    [InlineData("::ffff:169.254.169.254")]
    [InlineData("::169.254.169.254")]
    [InlineData("64:ff9b::169.254.169.254")]
    [InlineData("2002:a9fe:a9fe::1")]
    [InlineData("2002:7f00:1::")]
    [InlineData("fe80::1")]
    [InlineData("fec0::1")]
    [InlineData("ff02::1")]
    [InlineData("224.0.0.1")]
    [InlineData("255.255.255.255")]
    [InlineData("fd00:ec2::254")]
    [InlineData("fd20:ce::254")]
    [InlineData("100.100.100.200")]
    [InlineData("168.63.129.16")]
    [InlineData("192.0.0.192")]
    public void What_answers_with_a_machines_own_secrets_or_is_nobodys_is_never_called(string address)
    {
        Strict.Allows(IPAddress.Parse(address)).ShouldBeFalse();
        var literal = address.Contains(':', StringComparison.Ordinal) ? $"http://[{address}]/" : $"http://{address}/";
        Strict.Check(literal).Fault!.Code.ShouldBe("address.forbidden");
    }

    [Theory]
    [InlineData("http://2130706433/")]
    [InlineData("http://0x7f000001/")]
    [InlineData("http://0177.0.0.1/")]
    [InlineData("http://127.1/")]
    [InlineData("http://0xa9.0xfe.0xa9.0xfe/latest")]
    public void However_a_number_is_written_it_is_the_same_address(string address) =>
        Strict.Check(address).Fault!.Code.ShouldBe("address.forbidden");

    [Theory]
    [InlineData("10.1.2.3")]
    [InlineData("192.168.0.7")]
    [InlineData("172.16.0.1")]
    [InlineData("203.0.113.9")]
    [InlineData("fd12:3456::1")]
    [InlineData("2001:db8::1")]
    public void Back_offices_of_private_networks_and_stores_anywhere_are_called(string address) =>
        Strict.Allows(IPAddress.Parse(address)).ShouldBeTrue();

    [Fact]
    public void An_address_is_as_allowed_in_every_form_of_six_as_in_that_of_four() =>
        Gen
            .Byte.Array[4]
            .Sample(four =>
            {
                var allowed = Strict.Allows(new IPAddress(four));
                byte[] zeros = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0];
                Strict.Allows(new IPAddress([.. zeros, 0xff, 0xff, .. four])).ShouldBe(allowed, "mapped");
                Strict.Allows(new IPAddress([0, 0x64, 0xff, 0x9b, .. zeros[..8], .. four])).ShouldBe(allowed, "translated");
                Strict.Allows(new IPAddress([0x20, 0x02, .. four, .. zeros])).ShouldBe(allowed, "by 6to4");
            });
}
