import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Choice } from '../../../ui/form/choice';
import { MarkingSteps } from '../marking-steps';
import { MarkingList } from './marking-list';
import { ORDERS, type Order } from './marking-order';
import { isUnopened, rowWords } from './marking-rows';

/** Everybody who is gone through, with what is to be said of their work: beside it, in one's own order. */
@Component({
  selector: 'lt-people-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choice],
  templateUrl: './people-list.html',
  styleUrl: './people-list.css',
})
export class PeopleList {
  protected readonly people = inject(MarkingList);
  protected readonly steps = inject(MarkingSteps);
  protected readonly ORDERS = [...ORDERS];
  protected readonly rowWords = rowWords;
  protected readonly unopened = isUnopened;

  protected setOrder(order: string): void {
    this.people.setOrder(order as Order);
  }
}
