using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

[Trait("source", "Modbus Application Protocol V1.1b3, examples of clause 6")]
public sealed class ModbusTests
{
    public static TheoryData<ModbusRequest, string> Requests =>
        new()
        {
            { ModbusRequest.Read(ModbusFunction.ReadCoils, 0x13, 0x13), "0100130013" },
            { ModbusRequest.Read(ModbusFunction.ReadDiscreteInputs, 0xC4, 0x16), "0200C40016" },
            { ModbusRequest.Read(ModbusFunction.ReadHoldingRegisters, 0x6B, 3), "03006B0003" },
            { ModbusRequest.Read(ModbusFunction.ReadInputRegisters, 8, 1), "0400080001" },
            { ModbusRequest.WriteCoil(0xAC, true), "0500ACFF00" },
            { ModbusRequest.WriteRegister(1, 3), "0600010003" },
            { ModbusRequest.WriteCoils(0x13, true, false, true, true, false, false, true, true, true, false), "0F0013000A02CD01" },
            { ModbusRequest.WriteRegisters(1, 10, 258), "100001000204000A0102" },
        };

    [Theory]
    [MemberData(nameof(Requests))]
    public void A_request_is_the_bytes_of_the_specification(ModbusRequest request, string hex)
    {
        Convert.ToHexString(request.ToPdu()).ShouldBe(hex);
        ModbusRequest.TryParse(Convert.FromHexString(hex), out var parsed).ShouldBeNull();
        parsed!.ToPdu().ShouldBe(request.ToPdu());
        parsed.Function.ShouldBe(request.Function);
    }

    [Fact]
    public void Registers_of_a_response_are_read()
    {
        var request = ModbusRequest.Read(ModbusFunction.ReadHoldingRegisters, 0x6B, 3);
        var response = ModbusResponse.Parse(Convert.FromHexString("0306022B00000064"), request);
        response!.Words.ShouldBe(new ushort[] { 555, 0, 100 });
        Convert.ToHexString(response.ToPdu(request)).ShouldBe("0306022B00000064");
    }

    [Theory]
    [InlineData("0100130013", "0103CD6B05", "1011001111010110101")]
    [InlineData("0200C40016", "0203ACDB35", "0011010111011011101011")]
    public void Bits_of_a_response_are_read_lowest_first(string requestHex, string responseHex, string bits)
    {
        ModbusRequest.TryParse(Convert.FromHexString(requestHex), out var request);
        var response = ModbusResponse.Parse(Convert.FromHexString(responseHex), request!);
        string.Concat(response!.Bits.Select(b => b ? '1' : '0')).ShouldBe(bits);
        Convert.ToHexString(response.ToPdu(request!)).ShouldBe(responseHex);
    }

    [Fact]
    public void An_exception_is_told_from_an_answer()
    {
        var response = ModbusResponse.Parse([0x81, 0x02], ModbusRequest.Read(ModbusFunction.ReadCoils, 0x4A1, 1));
        response!.Exception.ShouldBe(ModbusExceptionCode.IllegalDataAddress);
        ModbusWords.Explain(response.Exception!.Value).ShouldContain("illegal data address");
    }

    [Theory]
    [InlineData("")]
    [InlineData("03")]
    [InlineData("0304000100")]
    [InlineData("0406022B00000064")]
    [InlineData("0306022B000000")]
    public void Bytes_that_do_not_answer_the_request_are_no_response(string hex) =>
        ModbusResponse.Parse(Convert.FromHexString(hex), ModbusRequest.Read(ModbusFunction.ReadHoldingRegisters, 0x6B, 3)).ShouldBeNull();

    [Theory]
    [InlineData("0300000000", ModbusExceptionCode.IllegalDataValue)] // no register
    [InlineData("030000007E", ModbusExceptionCode.IllegalDataValue)] // 126 registers
    [InlineData("01000007D1", ModbusExceptionCode.IllegalDataValue)] // 2001 coils
    [InlineData("0500ACFF01", ModbusExceptionCode.IllegalDataValue)] // neither on nor off
    [InlineData("100001000203000A0102", ModbusExceptionCode.IllegalDataValue)] // byte count does not match
    [InlineData("030000", ModbusExceptionCode.IllegalDataValue)]
    [InlineData("6300000001", ModbusExceptionCode.IllegalFunction)]
    public void A_server_refuses_what_the_protocol_does_not_allow(string hex, ModbusExceptionCode expected)
    {
        ModbusRequest.TryParse(Convert.FromHexString(hex), out var request).ShouldBe(expected);
        request.ShouldBeNull();
    }

    [Fact]
    [Trait("source", "Modbus Messaging on TCP/IP V1.0b, clause 3.1.3; frame composed from it")]
    public void A_frame_on_tcp_has_seven_bytes_before_the_request()
    {
        var frame = MbapHeader.Frame(1, 0x11, ModbusRequest.Read(ModbusFunction.ReadHoldingRegisters, 0x6B, 3).ToPdu());
        Convert.ToHexString(frame).ShouldBe("0001000000061103006B0003");
        MbapHeader.Read(frame).ShouldBe(new MbapHeader(1, 0, 6, 0x11));
        MbapHeader.Read(frame).IsModbus.ShouldBeTrue();
        MbapHeader.Read("HTTP/1."u8).IsModbus.ShouldBeFalse();
    }

    [Fact]
    public void Neighbouring_registers_are_read_together_and_far_ones_apart()
    {
        var blocks = ReadPlanner.Plan([Register(0), Register(2), Register(10), Register(500), Coil(3)]);
        blocks
            .Select(b => (b.Area, b.Start, b.Count, b.Tags.Length))
            .ShouldBe([(RegisterArea.Coil, 3, 1, 1), (RegisterArea.HoldingRegister, 0, 12, 3), (RegisterArea.HoldingRegister, 500, 2, 1)]);
    }

    [Fact]
    public void No_block_is_larger_than_the_protocol_allows_and_none_cuts_a_value_in_two()
    {
        var blocks = ReadPlanner.Plan(Enumerable.Range(0, 300).Select(i => Register(i * 2)).Concat(Enumerable.Range(0, 5000).Select(Coil)));
        blocks.Where(b => b.Area == RegisterArea.HoldingRegister).ShouldAllBe(b => b.Count <= 125);
        blocks.Where(b => b.Area == RegisterArea.Coil).ShouldAllBe(b => b.Count <= 2000);
        blocks.Sum(b => b.Tags.Length).ShouldBe(5300);
        blocks.ShouldAllBe(b =>
            b.Tags.All(t =>
                ((ModbusAddress)t.Address).Offset >= b.Start
                && ((ModbusAddress)t.Address).Offset + RawCodec.WordsOf(t.Type) <= b.Start + b.Count
            )
        );
        blocks.Length.ShouldBe(5 + 3);
    }

    [Fact]
    public void A_refused_block_is_split_until_one_tag_is_left()
    {
        var block = ReadPlanner.Plan([Register(0), Register(2), Register(4)]).Single();
        var (first, second) = ReadPlanner.Split(block)!.Value;
        (first.Tags.Length, second.Tags.Length).ShouldBe((1, 2));
        ReadPlanner.Split(first).ShouldBeNull();
    }

    [Theory]
    [InlineData(RegisterArea.HoldingRegister, 0, "40001", "holding 0")]
    [InlineData(RegisterArea.InputRegister, 9998, "39999", "input 9998")]
    [InlineData(RegisterArea.InputRegister, 65535, "365536", "input 65535")]
    [InlineData(RegisterArea.DiscreteInput, 3, "10004", "discrete 3")]
    [InlineData(RegisterArea.Coil, 0, "00001", "coil 0")]
    public void An_address_reads_as_on_the_wire_and_as_in_manuals(RegisterArea area, int offset, string number, string text)
    {
        var address = new ModbusAddress(area, offset);
        address.Number.ShouldBe(number);
        address.ToString().ShouldBe(text);
    }

    private static Tag Register(int offset) =>
        new(offset + 1, 1, $"R{offset}", new ModbusAddress(RegisterArea.HoldingRegister, offset), RawType.Float32, WordOrder.LowFirst, "");

    private static Tag Coil(int offset) =>
        new(offset + 100_000, 1, $"C{offset}", new ModbusAddress(RegisterArea.Coil, offset), RawType.Bool, WordOrder.HighFirst, "");
}
