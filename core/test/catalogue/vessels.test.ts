import { carriedOut } from './cases';

carriedOut('cyl.water-jacket', 'cyl.direct-expansion', 'cyl.visual', 'tank.ibc', 'tank.vapour-10', 'tank.vapour-2', 'tank.cargo', 'valve.vent', 'valve.relief', 'store.half-life'); // prettier-ignore
