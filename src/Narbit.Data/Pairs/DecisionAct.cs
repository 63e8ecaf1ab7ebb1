using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Pairs;

[JsonConverter(typeof(CamelCaseEnum<DecisionAct>))]
public enum DecisionAct
{
    /// <summary>The two are one.</summary>
    Accept,

    /// <summary>The listing shares an item that has a listing already.</summary>
    Share,

    /// <summary>The listing stands for several items.</summary>
    Kit,

    /// <summary>The record is meant to have no partner.</summary>
    SetAside,

    /// <summary>The record is to be created on the other side.</summary>
    Create,

    /// <summary>A pair, a kit or a set-aside is taken back.</summary>
    Unpair,
}
