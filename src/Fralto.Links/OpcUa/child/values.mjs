// Values of OPC UA as JSON, and back.
import ua from 'node-opcua-client';

const { DataType, VariantArrayType } = ua;

/** A variant as JSON: numbers, texts, arrays of them; members of a structure by name. Null where it holds nothing that can be told. */
export function plain(variant) {
  if (!variant || variant.dataType === DataType.Null || variant.value === null || variant.value === undefined) return null;
  if (variant.arrayType !== VariantArrayType.Scalar) return Array.from(variant.value, v => single(variant.dataType, v));
  return single(variant.dataType, variant.value);
}

function single(type, value) {
  switch (type) {
    case DataType.Boolean:
      return value ? 1 : 0;
    case DataType.Float:
    case DataType.Double:
      return Number.isFinite(value) ? value : String(value);
    case DataType.Int64:
      return String(BigInt.asIntN(64, whole(value)));
    case DataType.UInt64:
      return String(BigInt.asUintN(64, whole(value)));
    case DataType.DateTime:
      return value instanceof Date ? value.toISOString() : null;
    case DataType.LocalizedText:
      return value?.text ?? null;
    case DataType.QualifiedName:
      return value?.name ?? null;
    case DataType.ByteString:
      return value ? value.toString('base64') : null;
    case DataType.StatusCode:
      return value?.value ?? null;
    case DataType.ExtensionObject:
      return members(value);
    case DataType.Variant:
      return plain(value);
    case DataType.SByte:
    case DataType.Byte:
    case DataType.Int16:
    case DataType.UInt16:
    case DataType.Int32:
    case DataType.UInt32:
      return Number(value);
    default:
      return value === null || value === undefined ? null : String(value);
  }
}

/** 64 bits as the library holds them: two halves, the high one first. */
function whole(value) {
  if (Array.isArray(value) || ArrayBuffer.isView(value)) return (BigInt(value[0]) << 32n) | BigInt(value[1] >>> 0);
  return BigInt(value);
}

/** The members of a structure by name. */
export function members(value) {
  if (value === null || value === undefined) return null;
  if (value instanceof Date) return value.toISOString();
  if (Array.isArray(value) || ArrayBuffer.isView(value)) return Array.from(value, members);
  if (typeof value === 'boolean') return value ? 1 : 0;
  if (typeof value === 'number') return Number.isFinite(value) ? value : String(value);
  if (typeof value !== 'object') return String(value);
  const fields = value.schema?.fields;
  if (!fields) return typeof value.text === 'string' ? value.text : null;
  return Object.fromEntries(fields.map(f => [f.originalName ?? f.name, members(value[f.name])]));
}

/** What is written to a node of a type: the whole value, or one element by its range. */
export function variantOf(type, now, value, element) {
  const isArray = now && now.arrayType !== VariantArrayType.Scalar && now.dataType !== DataType.Null;
  if (element !== undefined && element !== null) {
    if (!isArray) return { problem: 'it is no array, so it has no elements' };
    if (element >= now.value.length)
      return { problem: `it has ${now.value.length} elements; there is none of number ${element}` };
  } else if (isArray) return { problem: 'it is an array; an element has to be named' };
  const raw = typed(type, value);
  if (raw === undefined) return { problem: `values of type ${DataType[type]} cannot be written` };
  return isArray
    ? { range: `${element}`, variant: { dataType: type, arrayType: VariantArrayType.Array, value: [raw] } }
    : { variant: { dataType: type, value: raw } };
}

function typed(type, value) {
  switch (type) {
    case DataType.Boolean:
      return Number(value) !== 0;
    case DataType.Float:
    case DataType.Double:
    case DataType.SByte:
    case DataType.Byte:
    case DataType.Int16:
    case DataType.UInt16:
    case DataType.Int32:
    case DataType.UInt32:
      return Number(value);
    case DataType.Int64:
    case DataType.UInt64: {
      const bits = BigInt.asUintN(64, BigInt(value));
      return [Number(bits >> 32n), Number(bits & 0xffffffffn)];
    }
    case DataType.String:
      return String(value);
    case DataType.LocalizedText:
      return { text: String(value) };
    default:
      return undefined;
  }
}
