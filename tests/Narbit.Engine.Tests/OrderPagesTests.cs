using System.Net;
using Narbit.Sandbox;
using Narbit.Sandbox.Orders;

namespace Narbit.Engine.Tests;

/// <summary>What a person does with orders on the stand-ins' own pages.</summary>
public sealed class OrderPagesTests
{
    [Fact]
    public async Task An_order_is_paid_changed_given_back_and_cancelled_on_its_store_s_page()
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 240));
        using var person = new HttpClient { BaseAddress = sandbox.Address };
        var shop = sandbox.Orders.Shop;
        var order = shop.All.Last(o => o is { PaymentState: "pending", Lines.Count: > 1 });
        (await person.GetStringAsync("web-shop/orders")).ShouldContain(order.Number);

        await ActAsync(person, $"web-shop/orders/{order.Id}", ("act", "pay"));
        shop.Find([order.Id]).Single().PaymentState.ShouldBe("paid");

        var line = order.Lines[0];
        await ActAsync(person, $"web-shop/orders/{order.Id}", ("act", "more"), ("line", line.Id));
        var more = shop.Find([order.Id]).Single();
        more.Lines[0].Quantity.ShouldBe(line.Quantity + 1);
        (more.Total - order.Total).ShouldBe(line.Price);

        await ActAsync(person, $"web-shop/orders/{order.Id}", ("act", "one"), ("line", line.Id));
        var part = shop.Find([order.Id]).Single().Refunds.ShouldHaveSingleItem();
        (part.Lines.Single().Line, part.Lines.Single().Quantity, part.Shipping).ShouldBe((line.Id, 1, 0m));

        await ActAsync(person, $"web-shop/orders/{order.Id}", ("act", "all"));
        var refunds = shop.Find([order.Id]).Single().Refunds;
        refunds.Count.ShouldBe(2);
        refunds[1].Total.ShouldBe(more.Total);
        refunds.Select(r => r.Id).ShouldBeUnique();

        await ActAsync(person, $"web-shop/orders/{order.Id}", ("act", "cancel"));
        shop.Find([order.Id]).Single().State.ShouldBe("cancelled");
        (await ActAsync(person, $"web-shop/orders/{order.Id}", ("act", "paint"))).ShouldContain("nothing like that");
        (await ActAsync(person, "web-shop/orders/1", ("act", "pay"))).ShouldContain("There is no order 1.");
    }

    [Fact]
    public async Task What_is_in_the_basket_is_bought_once_with_what_there_is()
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 40));
        using var person = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer() })
        {
            BaseAddress = sandbox.Address,
        };
        (await ActAsync(person, "web-shop/check-out", ("name", "Nobody"))).ShouldContain("The basket is empty.");
        var variant = sandbox.Catalogue.Products.SelectMany(p => p.Variants).First(v => v is { Quantity: > 3, PriceCents: > 0 });
        var before = variant.Quantity;
        await ActAsync(person, "web-shop/basket", ("variant", $"{variant.Id}"), ("quantity", "2"));
        (await person.GetStringAsync("web-shop/basket")).ShouldContain("2 ×");
        var said = await ActAsync(
            person,
            "web-shop/check-out",
            ("name", "Ottoline Fernlea"),
            ("email", "ottoline@fernlea.example"),
            ("street", "4 Slip Row"),
            ("city", "Port Ember"),
            ("postcode", "LM3"),
            ("shipping", "express"),
            ("payment", "card"),
            ("voucher", "3"),
            ("comment", "<b>soon</b>")
        );
        var order = sandbox.Orders.Shop.All[^1];
        said.ShouldContain($"Your order is {order.Number}");
        (order.Total, order.Vouchers.Single().Amount).ShouldBe((variant.PriceCents / 100m * 2 + 12.50m, 3m));
        order.Shipping.Single().Method.ShouldBe("express");
        variant.Quantity.ShouldBe(before - 2);
        // The basket is empty afterwards, and what was written there is text.
        (await ActAsync(person, "web-shop/check-out", ("name", "Again"))).ShouldContain("The basket is empty.");
        (await person.GetStringAsync("web-shop/orders")).ShouldNotContain("<b>soon</b>");

        await ActAsync(person, "web-shop/basket", ("variant", $"{variant.Id}"), ("quantity", "9999"));
        (await ActAsync(person, "web-shop/check-out", ("name", "Too many"))).ShouldContain("left");
    }

    [Fact]
    public async Task A_document_is_shipped_in_part_and_whole_and_cancelled_on_the_office_s_page()
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 12));
        using var person = new HttpClient { BaseAddress = sandbox.Address };
        var book = sandbox.Orders.Book;
        string Made(string external)
        {
            var article = sandbox.Catalogue.Articles[0].Number;
            var (number, refusal) = book.Create(
                new Narbit.Sandbox.BackOffice.OfficeDocument
                {
                    Number = "",
                    ExternalNumber = external,
                    Customer = book.Customers[0].Number,
                    Lines = [new("goods", article, "", 1, 10, 10, 2, 12, 20)],
                },
                null
            );
            refusal.ShouldBeNull();
            return number!;
        }

        var (one, other) = (Made("W1"), Made("W2"));
        await ActAsync(person, $"back-office/documents/{one}", ("act", "part"), ("carrier", "Moor Post"), ("tracking", "MP1"));
        await ActAsync(person, $"back-office/documents/{one}", ("act", "ship"), ("carrier", "Moor Post"), ("tracking", "MP2"));
        await ActAsync(person, $"back-office/documents/{other}", ("act", "cancel"));
        var page = await person.GetStringAsync("back-office/documents");
        page.ShouldContain("MP1");
        page.ShouldContain("MP2");
        (book.Document(one)!.State, book.Document(other)!.State).ShouldBe(("shipped", "cancelled"));
        book.Document(one)!.Parcels.Select(p => p.Id).ShouldBe([$"{one}-1", $"{one}-2"]);
        (await ActAsync(person, $"back-office/documents/{one}", ("act", "cancel"))).ShouldContain("only an open one");
        (await person.GetStringAsync("back-office/customers")).ShouldContain(book.Customers[^1].Email);
    }

    [Fact]
    public async Task What_was_done_is_still_so_after_a_restart()
    {
        var folder = Directory.CreateTempSubdirectory("narbit-orders");
        try
        {
            string id;
            await using (var sandbox = await SandboxHost.StartAsync(new SandboxOptions(DataFolder: folder.FullName, Items: 40)))
            {
                id = sandbox.Orders.Shop.All[^1].Id;
                sandbox.Orders.Shop.Tell(new OrderNews(id, "key", "accepted", "70001", null)).ShouldBeNull();
                sandbox.Orders.Market.Change(sandbox.Orders.Market.All[0].Id, o => o with { State = "sent" }).ShouldBeNull();
            }

            await using var again = await SandboxHost.StartAsync(new SandboxOptions(DataFolder: folder.FullName, Items: 40));
            var order = again.Orders.Shop.Find([id]).Single();
            (order.State, order.HubNumber).ShouldBe(("accepted", "70001"));
            again.Orders.Market.All[0].State.ShouldBe("sent");
            File.ReadAllText(Path.Combine(folder.FullName, "troubles.json")).ShouldContain("order with an unknown SKU");
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    // What the page says afterwards.
    private static async Task<string> ActAsync(HttpClient person, string path, params (string Name, string Value)[] fields)
    {
        using var form = new FormUrlEncodedContent(fields.Select(f => KeyValuePair.Create(f.Name, f.Value)));
        var answer = await person.PostAsync(path, form);
        answer.StatusCode.ShouldBe(HttpStatusCode.OK);
        return WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync());
    }
}
