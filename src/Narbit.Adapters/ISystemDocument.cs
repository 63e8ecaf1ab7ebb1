using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters;

/// <summary>What every description of a system says, whichever adapter reads it.</summary>
public interface ISystemDocument
{
    /// <summary>The system's name.</summary>
    string Name { get; }

    /// <summary>What it is to the business.</summary>
    SystemKind Kind { get; }

    /// <summary>Two letters that stand for it on screen.</summary>
    string Mark { get; }

    /// <summary>ISO 4217 code of its amounts.</summary>
    string Currency { get; }

    /// <summary>The currency's digits after the point.</summary>
    int Decimals { get; }

    /// <summary>Where it is: an address, or a folder.</summary>
    string Address { get; }

    /// <summary>How it signs callers in, in one word.</summary>
    string SignsInWith { get; }

    /// <summary>Another address to which the credentials are sent, e.g. where tokens are given; null: there is none.</summary>
    string? SignInAddress => null;

    /// <summary>The most requests a second; 0 where that makes no sense.</summary>
    double RequestsPerSecond { get; }

    /// <summary>How its webhooks are told; null: it sends none.</summary>
    HookDescription? Hook => null;

    /// <summary>An adapter for the system at an address.</summary>
    /// <param name="address">The address, which may be another than the document's.</param>
    /// <param name="credential">How to sign in, or null.</param>
    /// <param name="outbound">What may be reached.</param>
    /// <param name="clock">The time.</param>
    /// <returns>The adapter, or why the address cannot be used.</returns>
    Outcome<IAdapter> Adapter(string address, Credential? credential, OutboundPolicy outbound, TimeProvider clock);
}
