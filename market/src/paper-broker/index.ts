export { order, orderRequest, type Fill, type Order, type OrderLeg, type OrderRequest } from './order.ts';
export {
  type Broker,
  type BrokerQuotes,
  type LegQuote,
  PaperBroker,
  paperBrokerState,
  type PaperBrokerState,
  type Position,
} from './paper-broker.ts';
